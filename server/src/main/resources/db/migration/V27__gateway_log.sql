-- What gateways say that they decided: how often each of their rules caught something and when last, and the newest
-- connections in full. The empty rule is the default verdict.
create table gateway_hit (
  gateway text not null references gateway (name) on delete cascade,
  rule text not null,
  hits bigint not null,
  last timestamptz not null,
  primary key (gateway, rule)
);

create table gateway_connection (
  number bigint generated always as identity primary key,
  gateway text not null references gateway (name) on delete cascade,
  at timestamptz not null,
  release int not null,
  verdict text,
  rule text not null,
  client int not null,
  probe text not null
);

create index gateway_connection_by_gateway on gateway_connection (gateway, number);

-- How many connections a gateway could not tell of, since it was started.
alter table gateway add column dropped bigint not null default 0;

create function tell_gateway_log() returns trigger language plpgsql as $$
begin
  perform pg_notify('iron_sieve_changes', current_setting('application_name') || E'\n' || 'log');
  return null;
end $$;

-- Each connection that is told is a row, decided or not.
create trigger gateway_log_told after insert on gateway_connection
  for each statement execute function tell_gateway_log();
