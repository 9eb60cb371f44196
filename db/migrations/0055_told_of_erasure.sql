-- Up Migration
-- Which erasure a connection is asked about still: its receipt names it as asked until it has answered.
alter table kept_member add column erasure uuid;
