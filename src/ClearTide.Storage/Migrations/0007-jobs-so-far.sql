-- What a job has come to, so that one that was interrupted goes on from there.
alter table job add column so_far text not null default '';
