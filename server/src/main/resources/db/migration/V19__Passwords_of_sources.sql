-- A password goes only to the kind, address, login and encryption it was kept for.
alter table source_state add column password_for text not null default '';
update source_state s
  set password_for = concat_ws(E'\n', r.doc ->> 'kind', r.doc ->> 'address', coalesce(r.doc -> 'directory' ->> 'bind', ''),
    coalesce(r.doc -> 'directory' ->> 'security', ''), coalesce(r.doc -> 'directory' ->> 'certificates', ''))
  from workspace_record r where r.kind = 'source' and r.id = s.name and s.password <> '';
update source_state set password = '' where password_for = '';
