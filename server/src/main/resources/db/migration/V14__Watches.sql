-- Views of recorded traffic that somebody keeps an eye on: a name, what it narrows to, a threshold.
create table watch (
  rulebase text not null references rulebase on delete cascade,
  name text not null,
  who text not null,
  doc jsonb not null,
  primary key (rulebase, name)
);
