-- How a release gets to its gateways one after the other. There is at most one plan of a rulebase: the newest. Each wave
-- is a list of gateways' names; told is how many waves were told, settled since when all of these have it in force.
create table delivery_plan (
  rulebase text primary key,
  release int not null,
  waves jsonb not null,
  minutes int not null,
  begins timestamptz,
  told int not null default 0,
  settled timestamptz,
  state text not null,
  why text not null default '',
  who text not null,
  at timestamptz not null
);
