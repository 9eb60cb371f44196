-- Up Migration
-- Outside services that leads are sent to. Secrets are encrypted with a key that is not in the database.
create table connection (
  site_id int not null references site on delete cascade,
  id text not null,
  kind text not null,
  name text not null,
  settings jsonb not null,
  secret bytea,
  revision int not null default 1,
  updated_at timestamptz not null default now(),
  -- After failures in a row nothing is sent until then.
  failures int not null default 0,
  rests_until timestamptz,
  primary key (site_id, id),
  constraint connection_name_unique unique (site_id, name),
  constraint connection_name_length check (char_length(name) between 1 and 200)
);

-- Which campaigns' leads go where.
create table campaign_connection (
  site_id int not null,
  campaign_id text not null,
  connection_id text not null,
  primary key (site_id, campaign_id, connection_id),
  constraint campaign_connection_of foreign key (site_id, connection_id) references connection on delete cascade
);

-- One lead for one connection: waiting until `next_at`, sent, or failed for good.
create table delivery (
  site_id int not null,
  id uuid not null,
  connection_id text not null,
  lead_id uuid not null,
  state text not null default 'waiting',
  tries int not null default 0,
  next_at timestamptz not null default now(),
  made_at timestamptz not null default now(),
  sent_at timestamptz,
  reason text not null default '',
  primary key (site_id, id),
  constraint delivery_once unique (site_id, connection_id, lead_id),
  constraint delivery_connection foreign key (site_id, connection_id) references connection on delete cascade,
  constraint delivery_lead foreign key (site_id, lead_id) references lead on delete cascade,
  constraint delivery_state_known check (state in ('waiting', 'sent', 'failed'))
);
create index delivery_due on delivery (next_at) where state = 'waiting';
create index delivery_of_connection on delivery (site_id, connection_id, state, made_at desc);

-- The last exchanges of each connection: what was asked, and what came back. No secrets, no answers of people.
create table exchange (
  site_id int not null,
  connection_id text not null,
  id bigint generated always as identity,
  at timestamptz not null default clock_timestamp(),
  what text not null,
  status int,
  took_ms int not null,
  note text not null default '',
  primary key (site_id, connection_id, id),
  constraint exchange_connection foreign key (site_id, connection_id) references connection on delete cascade
);
