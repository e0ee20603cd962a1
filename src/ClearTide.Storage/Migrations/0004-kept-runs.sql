-- Runs that somebody keeps to compare: the document as it was, and the values that sliders had moved.
create table kept_run (
    study_id text not null references study (id) on delete cascade,
    owner_id text not null,
    id text not null,
    name text not null,
    colour integer not null,
    hidden integer not null default 0,
    document text not null,
    created text not null,
    primary key (study_id, id)
);
