-- Counts only changes of records, so that they are not read again because a rulebase came or went.
alter table workspace add column records bigint not null default 1;
