-- Up Migration
-- Segments, campaigns with their messages, releases, and what came of them.

create table segment (
  site_id int not null references site on delete cascade,
  id text not null,
  name text not null,
  lookback int not null,
  people jsonb not null,
  version int not null default 1,
  -- Goes up with every save; a save that names an older one is refused instead of overwriting.
  revision int not null default 1,
  updated_at timestamptz not null default now(),
  primary key (site_id, id),
  constraint segment_name_unique unique (site_id, name),
  constraint segment_name_length check (char_length(name) between 1 and 200),
  constraint segment_lookback_range check (lookback between 1 and 540)
);

create table campaign (
  site_id int not null references site on delete cascade,
  id text not null,
  name text not null,
  status text not null default 'draft',
  -- The site's order: lower decides first.
  position int not null,
  goal jsonb not null,
  rule jsonb not null,
  version int not null default 1,
  revision int not null default 1,
  updated_at timestamptz not null default now(),
  primary key (site_id, id),
  constraint campaign_name_unique unique (site_id, name),
  constraint campaign_name_length check (char_length(name) between 1 and 200),
  constraint campaign_status_known check (status in ('draft', 'scheduled', 'live', 'paused', 'ended'))
);

create table message (
  site_id int not null,
  id text not null,
  campaign_id text not null,
  position int not null default 0,
  format text not null,
  body jsonb not null,
  primary key (site_id, id),
  constraint message_campaign foreign key (site_id, campaign_id) references campaign on delete cascade,
  constraint message_format_known check (format in ('popup', 'quiet'))
);
create index message_by_campaign on message (site_id, campaign_id, position);

create table release (
  site_id int not null references site on delete cascade,
  number int not null,
  name text not null,
  note text not null default '',
  -- What the page loads, and the conditions behind its facts. Never changed after publishing.
  document jsonb not null,
  facts jsonb not null,
  hash text not null,
  member_id int references member on delete set null,
  published_at timestamptz not null default now(),
  primary key (site_id, number),
  constraint release_number_positive check (number > 0)
);

create function refuse_change() returns trigger language plpgsql as $$
begin
  raise exception 'A release is immutable; publish a new one';
end $$;
create trigger release_immutable before update of number, name, note, document, facts, hash on release
  for each row execute function refuse_change();

create table showing (
  site_id int not null,
  id uuid not null,
  campaign_id text not null,
  visitor_id int not null,
  visit_id uuid not null,
  view_id uuid not null,
  at timestamptz not null,
  release int not null,
  -- Triggered counts every row; of these the holdout got nothing to see.
  shown boolean not null default true,
  primary key (site_id, id),
  constraint showing_visitor foreign key (site_id, visitor_id) references visitor on delete cascade
);
create index showing_by_campaign on showing (site_id, campaign_id, at desc);
create index showing_by_visitor on showing (site_id, visitor_id, at);

create table outcome (
  site_id int not null,
  showing_id uuid not null,
  kind text not null,
  at timestamptz not null,
  value double precision,
  primary key (site_id, showing_id, kind),
  constraint outcome_showing foreign key (site_id, showing_id) references showing on delete cascade,
  constraint outcome_kind_known check (kind in ('shown', 'clicked', 'dismissed', 'converted', 'replied'))
);

create table lead (
  site_id int not null references site on delete cascade,
  id uuid not null,
  campaign_id text not null,
  showing_id uuid,
  visitor_id int,
  at timestamptz not null,
  email text,
  fields jsonb not null default '{}',
  url text not null,
  primary key (site_id, id),
  constraint lead_visitor foreign key (site_id, visitor_id) references visitor on delete set null (visitor_id)
);
create index lead_recent on lead (site_id, at desc);
