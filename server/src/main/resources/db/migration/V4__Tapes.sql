-- Recorded traffic, in its own open format; the counter tells that the tapes of a rulebase changed.
create table tape (
  rulebase text not null references rulebase on delete cascade,
  name text not null,
  added timestamptz not null default now(),
  who text not null,
  csv text not null,
  primary key (rulebase, name)
);
alter table rulebase add column tapes bigint not null default 0;
