create table settings (
    owner_id integer primary key references owner (id),
    body text not null,
    changed text not null
);
