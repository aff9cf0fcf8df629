-- What rules share besides sets, and findings somebody has accepted.
create table sheet (
  rulebase text not null references rulebase on delete cascade,
  id text not null,
  doc jsonb not null,
  primary key (rulebase, id)
);
create table notice (
  rulebase text not null references rulebase on delete cascade,
  id text not null,
  doc jsonb not null,
  primary key (rulebase, id)
);
create table lane (
  rulebase text not null references rulebase on delete cascade,
  id text not null,
  doc jsonb not null,
  primary key (rulebase, id)
);
create table reading_line (
  rulebase text not null references rulebase on delete cascade,
  id text not null,
  doc jsonb not null,
  primary key (rulebase, id)
);
create table accepted (
  rulebase text not null references rulebase on delete cascade,
  id text not null,
  doc jsonb not null,
  primary key (rulebase, id)
);
-- What the link can carry, as {"there": kbit/s, "back": kbit/s}.
alter table rulebase add column capacity jsonb;
-- What is known of addresses and host names: one row, as the company's files have it.
create table atlas (
  id int primary key check (id = 1),
  doc jsonb not null
);
-- Which edition of the catalogue is in force, and since when.
create table edition_in_force (
  edition int not null,
  since timestamptz not null default now(),
  who text not null
);
