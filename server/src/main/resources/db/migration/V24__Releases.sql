-- Releases of rulebases: each part once under its digest, and a signed manifest that names them. They stay when a
-- rulebase is removed, for it can be brought back, and gateways go on with what they have.
create table release_part (
  digest text primary key,
  content text not null
);

create table release (
  rulebase text not null,
  number int not null,
  revision bigint not null,
  title text not null,
  reference text not null,
  note text not null,
  who text not null,
  at timestamptz not null default now(),
  manifest text not null,
  signature text not null,
  primary key (rulebase, number)
);

-- A gateway enrols with a code, once, and has a key of its own from then on; only digests of both are kept. What is in
-- force is what the gateway said last.
create table gateway (
  name text primary key,
  rulebase text not null,
  code text,
  key text,
  delivery bigint not null default 0,
  wanted int,
  is_back boolean not null default false,
  state text not null default 'not enrolled',
  why text not null default '',
  in_force int,
  said timestamptz
);

create table signing_key (
  is_only boolean primary key default true check (is_only),
  private_key text not null,
  public_key text not null
);
