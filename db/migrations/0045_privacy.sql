-- Up Migration
-- For how many days a site keeps what it has of visitors; null: until somebody erases it.
alter table site add column keep_visits int;
alter table site add column keep_leads int;
alter table site add column keep_conversations int;
alter table site add constraint site_keeps_days check (
  coalesce(keep_visits, 7) between 7 and 3650 and coalesce(keep_leads, 1) between 1 and 3650 and coalesce(keep_conversations, 1) between 1 and 3650);

-- That somebody was erased, when, by whom and how much of them there was: nothing that they could be known by.
create table erasure (
  site_id int not null references site on delete cascade,
  id uuid not null,
  at timestamptz not null default now(),
  -- Who of the team, by name.
  by text not null,
  -- What they were found by: email, customer or browser.
  found_by text not null,
  rows jsonb not null,
  -- Connections that have been asked to do the same.
  told jsonb not null default '[]',
  primary key (site_id, id)
);
create index erasure_recent on erasure (site_id, at desc);
create index lead_by_visitor on lead (site_id, visitor_id);
create index visitor_last_seen on visitor (site_id, last_seen);
create index visit_started on visit (site_id, started_at);
create index thread_last on thread (site_id, last_at);
