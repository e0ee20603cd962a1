-- Edits of the same field in a row make one step of the history: what an edit was about, and whether a later one took its place.
alter table revision add column topic text;
alter table revision add column folded integer not null default 0;
alter table revision add column name text;
-- The revision whose text this one is compressed with; null where it stands by itself.
alter table revision add column base integer;
-- The shelf: what is put away, and what its search looks in.
alter table study add column archived integer not null default 0;
alter table study add column tags text not null default '';
alter table study add column words text not null default '';
