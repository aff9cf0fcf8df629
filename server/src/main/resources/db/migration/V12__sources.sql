-- What is known of each source beside what the workspace says of it: when it was looked at, what came, what waits.
create table source_state (
  name text primary key,
  state jsonb not null,
  -- Records that came and wait for somebody to look at them, by kind.
  waiting jsonb,
  -- What the source asks for; shown to nobody, and in no archive or journal.
  password text not null default '',
  -- While one server reads it, no other does.
  running_until timestamptz
);
