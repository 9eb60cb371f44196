-- Up Migration
-- Sites, the people who look after them, and their sessions. Every later table begins its key with the site.

create table site (
  id int generated always as identity primary key,
  key text not null,
  name text not null,
  -- Hosts (with a port where one is written) on which the page script may run.
  addresses text[] not null,
  -- The campaigns' budget: {"perVisit"?, "gapSeconds"?}.
  budget jsonb not null default '{}',
  -- Dense visitor numbers are dealt out from here, so that posting lists stay small.
  visitors int not null default 0,
  created_at timestamptz not null default now(),
  constraint site_key_unique unique (key),
  constraint site_key_shape check (key ~ '^[a-z0-9]{8,40}$'),
  constraint site_name_length check (char_length(name) between 1 and 200),
  constraint site_budget_object check (jsonb_typeof(budget) = 'object')
);

create table member (
  id int generated always as identity primary key,
  email text not null,
  name text not null,
  -- scrypt:N:r:p:salt:hash, base64url.
  password_hash text not null,
  created_at timestamptz not null default now(),
  constraint member_email_unique unique (email),
  constraint member_email_lower check (email = lower(email)),
  constraint member_name_length check (char_length(name) between 1 and 200)
);

create table membership (
  site_id int not null references site on delete cascade,
  member_id int not null references member on delete cascade,
  role text not null,
  primary key (site_id, member_id),
  constraint membership_role_known check (role in ('owner', 'editor', 'agent', 'viewer'))
);

create table session (
  -- SHA-256 of the token in the cookie: a copy of the table signs nobody in.
  token_hash bytea primary key,
  member_id int not null references member on delete cascade,
  expires_at timestamptz not null,
  created_at timestamptz not null default now()
);
create index session_expiry on session (expires_at);

-- Failed sign-ins, to slow down guessing. `subject` is an email or a network address.
create table sign_in_failure (
  subject text not null,
  at timestamptz not null default now()
);
create index sign_in_failure_recent on sign_in_failure (subject, at);
