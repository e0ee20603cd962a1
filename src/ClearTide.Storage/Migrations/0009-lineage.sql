-- Studies that were made as copies of one another share a lineage, so that their fits of the same data can be compared.
alter table study add column lineage text not null default '';
update study set lineage = id;
create index study_lineage on study (owner_id, lineage);
