-- Up Migration
-- What all messages of a site have in common: looks, senders, and texts that are changed in one place.
alter table site add column brand jsonb not null default '{}' constraint site_brand_object check (jsonb_typeof(brand) = 'object');
