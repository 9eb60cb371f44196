-- Up Migration
-- SHA-256 of the secret with which the site's own server reports events; null where it has none.
alter table site add column events_secret bytea;
