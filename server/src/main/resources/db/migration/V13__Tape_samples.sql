-- What the connections of a capture showed, so that they can be told anew when signatures change: gzipped JSON.
alter table tape add column samples bytea;
-- What became of the file a tape was made of: its format, how much of it could be read, names nobody knows here.
alter table tape add column made jsonb;
