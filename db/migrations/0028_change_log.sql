-- Up Migration
-- Who changed what and when. A change of the same thing by the same person within minutes is one line: from what it was before the first to what it is after the last.
create table change_log (
  site_id int not null references site on delete cascade,
  id text not null,
  at timestamptz not null default now(),
  began_at timestamptz not null default now(),
  -- Null for what happens by itself.
  member_id int,
  -- The name as it was then: whoever leaves stays in the log.
  member text,
  kind text not null,
  subject text not null,
  name text not null,
  did text not null,
  before jsonb,
  after jsonb,
  primary key (site_id, id)
);
create index change_log_newest on change_log (site_id, at desc, id);
