-- Up Migration
-- What may be done once, by whoever holds the token: of it only the SHA-256 is kept.
create table ticket (
  hash bytea primary key,
  -- `first`: make the owner and the first site. `reset`: choose a new password. `code`: the password was right, the second factor is asked for. `factor`: a second factor that is
  -- being set up.
  kind text not null,
  member_id int references member on delete cascade,
  data jsonb not null default '{}',
  tries int not null default 0,
  made_at timestamptz not null default now(),
  expires_at timestamptz not null,
  constraint ticket_kind_known check (kind in ('first', 'reset', 'code', 'factor')),
  constraint ticket_of_somebody check (kind = 'first' or member_id is not null)
);
create index ticket_expiry on ticket (expires_at);
create index ticket_of_member on ticket (member_id, kind);

create table invitation (
  id uuid primary key default gen_random_uuid(),
  site_id int not null references site on delete cascade,
  email text not null,
  role text not null,
  token_hash bytea not null unique,
  -- Who invited, by name: they may be gone by then.
  by text not null,
  made_at timestamptz not null default now(),
  expires_at timestamptz not null,
  constraint invitation_email_lower check (email = lower(email)),
  constraint invitation_role_known check (role in ('owner', 'editor', 'agent', 'viewer')),
  constraint invitation_once unique (site_id, email)
);

-- The secret of the second factor (RFC 6238), encrypted; the last step that a code was taken of; hashes of codes for whoever has lost it.
alter table member add column totp bytea;
alter table member add column totp_step bigint not null default 0;
alter table member add column spare_codes text[] not null default '{}';

alter table session add column agent text not null default '';
alter table session add column seen_at timestamptz not null default now();
create index session_of_member on session (member_id);

-- An attempt is noted before it is looked at; one that was right is taken out again.
alter table sign_in_failure rename to sign_in_attempt;
alter index sign_in_failure_recent rename to sign_in_attempt_recent;
alter table sign_in_attempt add column id uuid not null default gen_random_uuid();
