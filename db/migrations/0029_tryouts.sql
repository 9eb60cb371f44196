-- A tab of a member's browser that tries what is not published. It ends with the session that it came from.
create table tryout (
  id text primary key,
  site_id int not null references site on delete cascade,
  session_hash bytea not null references session (token_hash) on delete cascade,
  -- SHA-256, first of the ticket that the address has, then of the token that it was changed for.
  token_hash bytea not null unique,
  campaign text,
  created_at timestamptz not null default now(),
  begun_at timestamptz,
  -- When the tab was last heard of.
  last_at timestamptz not null default now(),
  -- What is pointed at for a field of the studio, and what was: null in a tab that tries.
  wants text check (wants in ('page', 'element')),
  picked jsonb
);
create index tryout_session on tryout (session_hash);
create index tryout_last on tryout (last_at);
-- The team's browsers are few among many.
create index visitor_team on visitor (site_id) where team;
