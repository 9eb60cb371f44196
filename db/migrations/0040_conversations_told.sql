-- Up Migration
-- What the team was told by mail of somebody who waits, and until which line the visitor was.
alter table thread add column told_of timestamptz, add column mailed_seq int not null default 0;
