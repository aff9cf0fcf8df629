-- What a rulebase is read against.
create table zone (
  name text primary key,
  position int not null,
  doc jsonb not null
);
create table device_kind (
  name text primary key,
  position int not null
);
create table directory_group (
  name text primary key,
  doc jsonb not null
);
create table person (
  login text primary key,
  doc jsonb not null
);
create table application (
  edition int not null,
  name text not null,
  position int not null,
  doc jsonb not null,
  primary key (edition, name)
);

-- A rulebase is a row here and the records below; each edit adds one to its revision.
create table rulebase (
  id text primary key,
  name text not null,
  last_line text not null check (last_line in ('allow', 'deny', 'reject')),
  revision bigint not null default 0
);
create table chapter (
  rulebase text not null references rulebase on delete cascade,
  id text not null,
  doc jsonb not null,
  primary key (rulebase, id)
);
create table rule (
  rulebase text not null references rulebase on delete cascade,
  id text not null,
  doc jsonb not null,
  primary key (rulebase, id)
);
create table named_set (
  rulebase text not null references rulebase on delete cascade,
  id text not null,
  doc jsonb not null,
  primary key (rulebase, id)
);

-- One row for each revision: who made it, when, and every record before and after.
create table journal (
  rulebase text not null references rulebase on delete cascade,
  revision bigint not null,
  at timestamptz not null default now(),
  who text not null,
  what text not null,
  action text not null check (action in ('edit', 'undo', 'redo')),
  target bigint,
  changes jsonb not null,
  primary key (rulebase, revision),
  check ((action = 'edit') = (target is null))
);
create index journal_by_editor on journal (rulebase, who, revision);
