-- Kept probes with the verdict they must get.
create table promise (
  rulebase text not null references rulebase on delete cascade,
  id text not null,
  doc jsonb not null,
  primary key (rulebase, id)
);
