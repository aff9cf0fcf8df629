-- What the rest of the product calls it.
alter table rulebase rename column last_line to default_verdict;
alter table reading_line rename to decryption_rule;
