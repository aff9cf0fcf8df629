-- A tape that was removed, or replaced by another of its name, is kept for thirty days and can be brought back.
create table tape_gone (
  number int generated always as identity primary key,
  gone timestamptz not null default now(),
  rulebase text not null references rulebase on delete cascade,
  name text not null,
  added timestamptz not null,
  who text not null,
  csv text,
  content bigint,
  words bigint,
  samples bytea,
  made jsonb,
  keep_days int
);
create or replace function drop_tape_parts() returns trigger language plpgsql as $$
begin
  delete from tape_part p where p.content in (old.content, old.words)
    and not exists (select from tape t where t.content = p.content or t.words = p.content)
    and not exists (select from tape_gone t where t.content = p.content or t.words = p.content);
  return null;
end $$;
create trigger tape_parts_gone after delete on tape_gone for each row execute function drop_tape_parts();
