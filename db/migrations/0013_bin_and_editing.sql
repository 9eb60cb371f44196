-- Up Migration
-- What was deleted in the studio, whole, so that it can be brought back; swept after thirty days.
create table bin (
  site_id int not null references site on delete cascade,
  kind text not null check (kind in ('segment', 'campaign', 'place', 'page_set')),
  id text not null,
  row jsonb not null,
  deleted_at timestamptz not null default now(),
  primary key (site_id, kind, id)
);

-- Who has what open in an editor just now. Unlogged: after a crash everyone says so again within seconds.
create unlogged table editing (
  site_id int not null references site on delete cascade,
  kind text not null,
  id text not null,
  tab uuid not null,
  member_id int not null references member on delete cascade,
  seen_at timestamptz not null default now(),
  primary key (site_id, kind, id, tab)
);
