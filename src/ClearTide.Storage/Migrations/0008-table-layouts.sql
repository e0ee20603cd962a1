-- What was said of the columns of a table, by its headings, so that the next table of the same form is read as the one before.
create table table_layout (
    study_id text not null references study (id) on delete cascade,
    owner_id integer not null references owner (id),
    headings text not null,
    body text not null,
    changed text not null,
    primary key (study_id, owner_id, headings)
);
