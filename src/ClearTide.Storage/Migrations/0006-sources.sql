-- Tables as they came, compressed; data sets say which one they were read from.
create table data_source (
    id text primary key,
    study_id text not null references study (id) on delete cascade,
    owner_id integer not null references owner (id),
    name text not null,
    body blob not null,
    created text not null
);
create index data_source_study on data_source (study_id);
alter table data_set add column source_id text not null default '';
