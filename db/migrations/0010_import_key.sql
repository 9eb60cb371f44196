-- Up Migration
-- Visitors of an imported access log are told apart by address and agent, under a key that never leaves the database: the
-- address cannot be found again from what is stored, and the same log imported again gives the same visitors.
alter table site add column import_key uuid not null default gen_random_uuid();
