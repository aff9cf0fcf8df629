-- The revisions whose edits a release leaves out, and what stood against it when it was made all the same, with the
-- reason for each.
alter table release add column left_out jsonb not null default '[]';
alter table release add column overrides jsonb not null default '[]';

-- How many seconds a gateway's clock is ahead of the server's, as it said last: schedules hold by its clock.
alter table gateway add column clock_ahead int not null default 0;

-- Whoever waits for news of a gateway hears of it; that it was heard of again is none.
create function tell_gateway() returns trigger language plpgsql as $$
begin
  perform pg_notify(
    'iron_sieve_changes',
    current_setting('application_name') || E'\n' || 'gateway:' || coalesce(new.name, old.name));
  return null;
end $$;

create trigger gateway_told after insert or delete or update of key, delivery, state, in_force on gateway
  for each row execute function tell_gateway();

-- On which ports of its machine a gateway lets clients of a zone in, as it said last.
alter table gateway add column ports jsonb not null default '[]';
