-- Of whom the rows of a data set are: what was given to each, and what is known of it.
alter table data_set add column subjects text not null default '[]';
