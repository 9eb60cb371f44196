-- Up Migration
-- When something of a visitor last came on record, by the database's clock: what is kept in memory is brought up to date by it.
alter table visitor add column touched_at timestamptz not null default now();
create index visitor_touched on visitor (site_id, touched_at);
