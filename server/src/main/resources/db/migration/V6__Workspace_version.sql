-- Counts every change of what rulebases are read against, so that each server notices what another one did.
create table workspace (
  id int primary key check (id = 1),
  version bigint not null
);
insert into workspace (id, version) values (1, 1);
