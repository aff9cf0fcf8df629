-- Why an edit was made: a reason or the reference of a change, as whoever made it said.
alter table journal add column reason text not null default '';
