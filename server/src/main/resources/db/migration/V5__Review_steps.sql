-- What each question of a rulebase's reviews may take; 0 for as many steps as usual.
alter table rulebase add column steps integer not null default 0;
