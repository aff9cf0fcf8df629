-- Who put an edition in force can take that back like any other edit of theirs.
alter table edition_in_force
  add column number bigint generated always as identity primary key,
  add column action text not null default 'edit' check (action in ('edit', 'undo', 'redo'));
