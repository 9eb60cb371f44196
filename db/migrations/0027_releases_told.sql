-- Up Migration
-- What a release was made of, to tell in words what another changes: {"campaigns": […], "budget", "brand"}; and which one it goes back to.
alter table release add column source jsonb;
alter table release add column back_to int;
drop trigger release_immutable on release;
create trigger release_immutable before update of number, name, note, document, facts, hash, source, back_to on release
  for each row execute function refuse_change();

-- When a campaign starts and ends by itself.
alter table campaign add column starts_at timestamptz;
alter table campaign add column ends_at timestamptz;
alter table campaign add constraint campaign_schedule_order check (starts_at < ends_at);
create index campaign_due on campaign (status) where starts_at is not null or ends_at is not null;

-- A campaign that is paused, or that starts or ends, is another thing for pages at once: collectors hear of it.
create trigger campaign_announced after update of status on campaign
  for each row when (old.status is distinct from new.status) execute function announce_site();
