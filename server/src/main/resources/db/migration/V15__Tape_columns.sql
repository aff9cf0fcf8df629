-- The lines of tapes as columns of numbers, in parts: what is named (words), conversations, and blocks of lines. A content is
-- never changed, only replaced; parts that no tape names any more go with the tape.
create sequence tape_content;
create table tape_part (
  content bigint not null,
  kind text not null check (kind in ('words', 'conversations', 'block')),
  number int not null,
  bytes bytea not null,
  primary key (content, kind, number)
);
alter table tape_part alter column bytes set storage external;
-- A tape out of an archive stays the text it was; of all others the content and, as names change, the words have numbers.
alter table tape alter column csv drop not null;
alter table tape add column content bigint;
alter table tape add column words bigint;
alter table tape add check (csv is not null or content is not null and words is not null);
create function drop_tape_parts() returns trigger language plpgsql as $$
begin
  delete from tape_part p where p.content in (old.content, old.words)
    and not exists (select from tape t where t.content = p.content or t.words = p.content);
  return null;
end $$;
create trigger tape_parts after delete or update of content, words on tape
  for each row execute function drop_tape_parts();
