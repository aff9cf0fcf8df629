-- Two kinds of finding have plainer names. What somebody has accepted of them stays accepted, and so does what the
-- journals say of that, so that it can still be taken back.
create function plainer(old jsonb) returns jsonb language sql immutable as $$
  select regexp_replace(regexp_replace(replace(replace(old::text,
    '"kind": "needs unmet"', '"kind": "missing dependency"'),
    '"kind": "unguarded"', '"kind": "no limits on what it may use"'),
    '("id": "[^"]*):needs unmet"', '\1:missing dependency"', 'g'),
    '("id": "[^"]*):unguarded"', '\1:no limits on what it may use"', 'g')::jsonb
$$;

update accepted set id = doc->>'rule' || ':' || (plainer(doc)->>'kind'), doc = plainer(doc)
  where doc->>'kind' in ('needs unmet', 'unguarded');
update journal set changes = plainer(changes)
  where changes::text like '%"needs unmet"%' or changes::text like '%"unguarded"%';
update workspace_journal set changes = plainer(changes)
  where changes::text like '%"needs unmet"%' or changes::text like '%"unguarded"%';

drop function plainer(jsonb);
