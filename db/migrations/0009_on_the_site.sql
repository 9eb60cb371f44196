-- Up Migration
-- What a site allows to be kept, and what the collector learns about visits and about faults of the page script.
alter table site
  -- Whether visitors are recorded until they object, or only once they have agreed.
  add column consent text not null default 'assumed',
  -- Parameters of addresses that are kept; "x*" keeps those that begin with x. Others are dropped before anything is stored.
  add column kept_parameters text[] not null default '{utm_*}',
  add constraint site_consent_known check (consent in ('assumed', 'asked'));

alter table visit
  -- As it was when the visit was under way; null where nobody asked or nobody answered.
  add column weather jsonb,
  -- Set once 30 minutes have gone by without activity; taken back if something of it arrives late.
  add column closed_at timestamptz,
  add column views int not null default 0,
  add column engaged_ms int not null default 0;
create index visit_open on visit (last_at) where closed_at is null;

-- Opened because the visitor or the page asked for it: not paced, and no part of the results of a rule.
alter table showing add column opened boolean not null default false;

create table fault (
  site_id int not null references site on delete cascade,
  day date not null,
  entry text not null,
  message text not null,
  times int not null default 1,
  last_at timestamptz not null default now(),
  primary key (site_id, day, entry, message)
);

alter table refused drop constraint refused_reason_known,
  add constraint refused_reason_known check (reason in ('robot', 'address', 'consent'));
