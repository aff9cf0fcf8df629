-- An edit asks what was changed in the workspace since it was begun.
create index workspace_journal_by_version on workspace_journal (version);
