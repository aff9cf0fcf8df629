-- How many days of a tape are kept; what is older goes by itself. Nothing: all of it is kept.
alter table tape add column keep_days int check (keep_days between 1 and 3650);
