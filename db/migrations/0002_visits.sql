-- Up Migration
-- What visitors do. Ids of visits, page views and events are UUIDv7 made in the browser: a repeated request is the same
-- row. Views and signals are partitioned by that id, which is partitioned by time.

create table visitor (
  site_id int not null references site on delete cascade,
  id int not null,
  browser_id uuid not null,
  first_seen timestamptz not null,
  last_seen timestamptz not null,
  email text,
  customer_id text,
  language text,
  zone text,
  device_category text,
  device_os text,
  device_browser text,
  ad_blocker boolean,
  country text,
  region text,
  city text,
  team boolean not null default false,
  score double precision not null default 0,
  primary key (site_id, id),
  constraint visitor_browser_unique unique (site_id, browser_id),
  constraint visitor_id_positive check (id > 0),
  constraint visitor_seen_order check (first_seen <= last_seen),
  constraint visitor_device_known check (device_category in ('desktop', 'tablet', 'phone'))
);
create index visitor_recent on visitor (site_id, last_seen desc);

-- Dated changes of traits, tags, score and identity, so that any past instant can be judged as it was. A null value is a removal.
create table visitor_change (
  site_id int not null,
  visitor_id int not null,
  at timestamptz not null,
  kind text not null,
  key text not null,
  value jsonb,
  id uuid not null,
  primary key (site_id, visitor_id, id, kind, key),
  constraint visitor_change_visitor foreign key (site_id, visitor_id) references visitor on delete cascade,
  constraint visitor_change_kind_known check (kind in ('trait', 'tag', 'score', 'identity'))
);

create table visit (
  site_id int not null,
  id uuid not null,
  visitor_id int not null,
  started_at timestamptz not null,
  last_at timestamptz not null,
  channel text not null,
  referrer text,
  utm jsonb not null default '{}',
  primary key (site_id, id),
  constraint visit_visitor foreign key (site_id, visitor_id) references visitor on delete cascade,
  constraint visit_order check (started_at <= last_at),
  constraint visit_channel_known check (channel in ('paid', 'email', 'social', 'search', 'referral', 'direct'))
);
create index visit_by_visitor on visit (site_id, visitor_id, started_at);
create index visit_recent on visit (site_id, started_at desc);

create table page_view (
  site_id int not null,
  id uuid not null,
  visit_id uuid not null,
  visitor_id int not null,
  at timestamptz not null,
  url text not null,
  title text,
  labels text[],
  hidden boolean not null default false,
  cannot_scroll boolean,
  -- Selectors that the page script watched in this view.
  watched text[] not null default '{}',
  engaged_ms int not null default 0,
  scroll smallint not null default 0,
  -- The last instant known, in ms since the opening.
  leave_ms int not null default 0,
  primary key (site_id, id),
  constraint page_view_engaged_range check (engaged_ms >= 0),
  constraint page_view_scroll_range check (scroll between 0 and 100),
  constraint page_view_leave_range check (leave_ms >= 0)
) partition by range (id);
create index page_view_by_visitor on page_view (site_id, visitor_id, at);
create index page_view_by_visit on page_view (site_id, visit_id, at);
create index page_view_recent on page_view (site_id, at desc);
create table page_view_rest partition of page_view default;

create table signal_piece (
  site_id int not null,
  view_id uuid not null,
  piece int not null,
  -- A list of signals as in the rule language: [{"t": ms, "s": kind, …}].
  signals jsonb not null,
  primary key (site_id, view_id, piece),
  constraint signal_piece_number check (piece between 0 and 100000),
  constraint signal_piece_list check (jsonb_typeof(signals) = 'array')
) partition by range (view_id);
create table signal_piece_rest partition of signal_piece default;

create table event (
  site_id int not null,
  id uuid not null,
  visit_id uuid not null,
  view_id uuid not null,
  visitor_id int not null,
  at timestamptz not null,
  name text not null,
  props jsonb not null default '{}',
  primary key (site_id, id),
  constraint event_visitor foreign key (site_id, visitor_id) references visitor on delete cascade,
  constraint event_name_length check (char_length(name) between 1 and 200),
  constraint event_props_object check (jsonb_typeof(props) = 'object')
);
create index event_by_visitor on event (site_id, visitor_id, at);
create index event_by_name on event (site_id, name, at desc);

-- UUIDv7 begins with 48 bits of Unix milliseconds.
create function uuid_floor(at timestamptz) returns uuid language sql immutable strict as $$
  select (lpad(to_hex((extract(epoch from at) * 1000)::bigint), 12, '0') || repeat('0', 20))::uuid
$$;

-- Makes the month's partitions where they are missing. Rows of an odd clock land in the default partition and stay there.
create function add_partitions(month date) returns void language plpgsql as $$
declare
  start date := date_trunc('month', month);
  parent text;
  child text;
begin
  foreach parent in array array['page_view', 'signal_piece'] loop
    child := parent || to_char(start, '_YYYYMM');
    if to_regclass(child) is null then
      execute format('create table %I partition of %I for values from (%L) to (%L)',
        child, parent, uuid_floor(start), uuid_floor((start + interval '1 month')::date));
    end if;
  end loop;
end $$;

-- Counts of what was turned away, so that the check of an installation can say why.
create table refused (
  site_id int not null references site on delete cascade,
  day date not null,
  reason text not null,
  subject text not null,
  times int not null default 1,
  last_at timestamptz not null default now(),
  primary key (site_id, day, reason, subject),
  constraint refused_reason_known check (reason in ('robot', 'address'))
);
