-- Servers that share this database hear of each change as soon as it is committed; what they hear is only who
-- changed which rulebase, or no rulebase for what all of them are read against. Whoever does not listen misses nothing:
-- revisions and versions are read with every request.
create function tell_rulebase() returns trigger language plpgsql as $$
begin
  perform pg_notify('iron_sieve_changes', current_setting('application_name') || E'\n' || new.id);
  return null;
end $$;

create trigger rulebase_told after update of revision, tapes, steps on rulebase
  for each row execute function tell_rulebase();

create function tell_workspace() returns trigger language plpgsql as $$
begin
  perform pg_notify('iron_sieve_changes', current_setting('application_name') || E'\n');
  return null;
end $$;

create trigger workspace_told after update of version on workspace
  for each row execute function tell_workspace();
