-- Up Migration
-- A visitor's exchange with a person of the team. Its lines are numbered by the server, in the order in which they were committed.
create table thread (
  site_id int not null,
  id uuid not null,
  visitor_id int not null,
  campaign_id text not null,
  showing_id uuid not null,
  -- The page that it was begun on.
  view_id uuid not null,
  begun_at timestamptz not null,
  state text not null default 'open',
  closed_at timestamptz,
  -- Who of the team it is with, and since when.
  member_id int references member on delete set null,
  member_since timestamptz,
  last_seq int not null default 0,
  last_at timestamptz not null default clock_timestamp(),
  last_by text not null default 'visitor',
  last_text text not null default '',
  -- Since when the visitor waits for a person; null while nobody has to answer.
  waits_since timestamptz,
  -- When it first wanted a person, and when the first one answered.
  asked_at timestamptz,
  answered_at timestamptz,
  visitor_seen int not null default 0,
  team_seen int not null default 0,
  tags text[] not null default '{}',
  primary key (site_id, id),
  constraint thread_visitor foreign key (site_id, visitor_id) references visitor on delete cascade,
  constraint thread_state_known check (state in ('open', 'closed'))
);
create index thread_waiting on thread (site_id, waits_since) where waits_since is not null;
create index thread_recent on thread (site_id, last_at desc);
create index thread_of_visitor on thread (site_id, visitor_id);
create index thread_of_member on thread (site_id, member_id, state);

create table line (
  site_id int not null,
  thread_id uuid not null,
  seq int not null,
  id uuid not null,
  at timestamptz not null default clock_timestamp(),
  -- `note`: for the team alone. `event`: what happened to the thread, in words for the team.
  by text not null,
  member_id int references member on delete set null,
  text text not null,
  primary key (site_id, thread_id, seq),
  constraint line_once unique (site_id, thread_id, id),
  constraint line_thread foreign key (site_id, thread_id) references thread on delete cascade,
  constraint line_by_known check (by in ('script', 'visitor', 'team', 'note', 'event'))
);
create index line_words on line using gin (to_tsvector('simple', text));

create table saved_answer (
  site_id int not null references site on delete cascade,
  id text not null,
  name text not null,
  text text not null,
  primary key (site_id, id),
  constraint saved_answer_name_unique unique (site_id, name),
  constraint saved_answer_length check (char_length(name) between 1 and 100 and char_length(text) between 1 and 4000)
);

-- What visitors see of somebody who answers, and when they are here.
create table colleague (
  site_id int not null references site on delete cascade,
  member_id int not null references member on delete cascade,
  answers boolean not null default true,
  title text not null default '',
  introduction text not null default '',
  meeting text not null default '',
  -- A zone, ranges of hours by weekday, and days off (see core/conversations/hours.ts); null: only by hand.
  hours jsonb,
  -- By hand, until then.
  here_until timestamptz,
  away_until timestamptz,
  -- Whose turn it is.
  given_at timestamptz,
  primary key (site_id, member_id)
);

-- Who gets a campaign's conversations (see core/conversations/answering.ts); null: whoever is here, in turn.
alter table campaign add column answering jsonb;

-- Whoever watches a thread hears of what is committed in it.
create function announce_thread() returns trigger language plpgsql as $$
begin
  perform pg_notify('crindle', 'thread ' || new.site_id || ' ' || new.id);
  return null;
end $$;
create trigger thread_announced after insert or update on thread for each row execute function announce_thread();
