-- Files beside the server, dropped through a rulebase on all processors or on a cluster: how far it is, told by the server
-- that runs it, and in the end what came of it. Whoever runs one whose row has gone stops.
create table replay (
  rulebase text not null references rulebase on delete cascade,
  number int not null,
  who text not null,
  source text not null,
  revision bigint not null,
  against bigint,
  begun timestamptz not null default now(),
  state text not null check (state in ('running', 'done', 'failed')),
  done int not null default 0,
  total int not null default 0,
  seen timestamptz not null default now(),
  why text not null default '',
  result jsonb,
  primary key (rulebase, number)
);
