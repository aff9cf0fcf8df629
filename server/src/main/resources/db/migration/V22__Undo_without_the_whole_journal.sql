-- What an editor can take back is found from its newest end: an edit, and whether it was taken back since.
create index journal_by_target on journal (rulebase, target) where target is not null;
create index workspace_journal_by_target on workspace_journal (target) where target is not null;
