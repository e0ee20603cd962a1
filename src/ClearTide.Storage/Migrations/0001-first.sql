create table owner (
    id integer primary key,
    name text not null
);
insert into owner (id, name) values (1, 'local');

create table study (
    id text primary key,
    owner_id integer not null references owner (id),
    title text not null,
    question text not null,
    head integer not null,
    tip integer not null,
    version integer not null,
    created text not null,
    changed text not null
);
create index study_owner on study (owner_id, changed);

create table revision (
    study_id text not null references study (id) on delete cascade,
    owner_id integer not null references owner (id),
    number integer not null,
    parent integer,
    summary text not null,
    document blob not null,
    created text not null,
    primary key (study_id, number)
) without rowid;

create table data_set (
    id text not null,
    study_id text not null references study (id) on delete cascade,
    owner_id integer not null references owner (id),
    name text not null,
    rows text not null,
    created text not null,
    primary key (study_id, id)
) without rowid;

create table job (
    id text primary key,
    study_id text not null references study (id) on delete cascade,
    owner_id integer not null references owner (id),
    kind text not null,
    fingerprint text not null,
    request text not null,
    state text not null,
    progress real not null,
    message text not null,
    worker text,
    lease_until text,
    created text not null,
    changed text not null
);
create index job_study on job (study_id, kind, created);

create table result (
    fingerprint text not null,
    kind text not null,
    study_id text not null references study (id) on delete cascade,
    owner_id integer not null references owner (id),
    body text not null,
    created text not null,
    primary key (fingerprint, kind, study_id)
) without rowid;
