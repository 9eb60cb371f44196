-- Up Migration
-- What goes to connections besides leads: that a showing converted or a conversation began, that a release was published, that a person is erased. What is
-- said of it is read as it is sent; `body` has only what it is of.
alter table delivery alter lead_id drop not null;
alter table delivery add what text not null default 'lead', add body jsonb;
alter table delivery add constraint delivery_what_known check (what in ('lead', 'conversion', 'conversation', 'release', 'erased'));
alter table delivery add constraint delivery_of check ((what = 'lead') = (lead_id is not null) and (what = 'lead') = (body is null));

-- How a campaign's leads are told to a connection; null: everything they have.
alter table campaign_connection add mapping jsonb;

-- Consent taken back: whoever it was is in no audience any more.
alter table lead add withdrawn_at timestamptz;
create index lead_agreed on lead (site_id, lower(email)) where email is not null and consent <> '[]' and withdrawn_at is null;

-- A segment whose people a connection has, too.
create table kept_segment (
  site_id int not null,
  id text not null,
  segment_id text not null,
  connection_id text not null,
  -- Compared next, and last; why it could not be.
  next_at timestamptz not null default now(),
  done_at timestamptz,
  note text not null default '',
  -- Everybody is taken out there; then it is over.
  is_ending boolean not null default false,
  joined bigint not null default 0,
  gone bigint not null default 0,
  primary key (site_id, id),
  constraint kept_segment_once unique (site_id, segment_id, connection_id),
  constraint kept_segment_connection foreign key (site_id, connection_id) references connection on delete cascade
);
create index kept_segment_due on kept_segment (next_at);

-- Who is wanted at the other side and who is there, by email in lower case. `maybe`: it was tried, and nobody knows whether it came about.
create table kept_member (
  site_id int not null,
  kept_id text not null,
  email text not null,
  wanted boolean not null,
  there text not null default 'no',
  -- Grows with each change of what is wanted: the same change sent twice is once.
  change int not null default 1,
  tries int not null default 0,
  failed boolean not null default false,
  reason text not null default '',
  made_at timestamptz not null default now(),
  next_at timestamptz not null default now(),
  -- Being sent until then at the longest: what is wanted may change meanwhile, and is sent afterwards.
  held_until timestamptz,
  primary key (site_id, kept_id, email),
  constraint kept_member_of foreign key (site_id, kept_id) references kept_segment on delete cascade,
  constraint kept_member_there_known check (there in ('no', 'maybe', 'yes'))
);
create index kept_member_due on kept_member (next_at) where not failed and there <> case when wanted then 'yes' else 'no' end;
create index kept_member_open on kept_member (site_id, kept_id) where there <> case when wanted then 'yes' else 'no' end;


-- People are looked for by their email and by the id that the site's own server knows.
create index visitor_by_email on visitor (site_id, lower(email)) where email is not null;
create index visitor_by_customer on visitor (site_id, customer_id) where customer_id is not null;

-- Collectors keep which services a site asks for weather and location.
create trigger connection_announced after insert or update of settings or delete on connection for each row execute function announce_site();
