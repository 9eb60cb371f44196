-- Up Migration
-- What is deleted is in the trash for thirty days.
alter table bin rename to trash;
alter index bin_pkey rename to trash_pkey;
