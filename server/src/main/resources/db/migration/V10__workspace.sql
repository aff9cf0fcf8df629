-- What rulebases are read against, one row for each record, in one table for all kinds.
create table workspace_record (
  kind text not null,
  id text not null,
  doc jsonb not null,
  primary key (kind, id)
);
insert into workspace_record select 'zone', name, doc || jsonb_build_object('position', position) from zone;
insert into workspace_record select 'device kind', name, jsonb_build_object('name', name, 'position', position)
  from device_kind;
insert into workspace_record select 'group', name, doc from directory_group;
insert into workspace_record select 'person', login, doc from person;
insert into workspace_record select 'country', key, jsonb_build_object('code', key, 'networks', value)
  from atlas, jsonb_each(doc->'countries');
insert into workspace_record select 'address list', key, jsonb_build_object('name', key, 'addresses', value)
  from atlas, jsonb_each(doc->'lists');
insert into workspace_record select 'host', key, jsonb_build_object('host', key, 'addresses', value)
  from atlas, jsonb_each(doc->'hosts');
insert into workspace_record select 'site', value->>'names', value
  from atlas, jsonb_array_elements(doc->'sites') on conflict do nothing;
insert into workspace_record select 'edition', 'only', jsonb_build_object('number', edition)
  from edition_in_force order by number desc limit 1;

-- One row for each change of them: who made it, when, and every record before and after.
create table workspace_journal (
  number bigint generated always as identity primary key,
  version bigint not null,
  at timestamptz not null default now(),
  who text not null,
  reason text not null default '',
  what text not null,
  action text not null check (action in ('edit', 'undo', 'redo')),
  target bigint,
  changes jsonb not null
);
create index workspace_journal_by_editor on workspace_journal (who, number);
-- Of editions put in force before there was a journal, a change each.
insert into workspace_journal (version, at, who, what, action, changes)
  select 0, since, who, 'put catalogue edition ' || edition || ' in force', action,
    jsonb_build_array(jsonb_build_object('kind', 'edition', 'id', 'only',
      'before', jsonb_build_object('number', replaced), 'after', jsonb_build_object('number', edition)))
  from (select *, lag(edition, 1, edition) over (order by number) as replaced from edition_in_force) as adoption
  order by number;

drop table zone, device_kind, directory_group, person, atlas, edition_in_force;

-- A rulebase that is archived is shown and not edited; one that is removed can be brought back.
alter table rulebase add column standing text not null default 'active'
  check (standing in ('active', 'archived', 'removed'));
