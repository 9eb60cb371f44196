-- Up Migration
-- Places and page sets are edited in the studio like segments: a save that names an older revision is refused.
alter table place add column revision int not null default 1, add column updated_at timestamptz not null default now();
alter table page_set add column revision int not null default 1, add column updated_at timestamptz not null default now();
