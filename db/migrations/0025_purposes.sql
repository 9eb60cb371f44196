-- Up Migration
-- One offer in several forms: campaigns of a purpose share who, where and what counts as success, each with its own moment, pacing and message.
create table purpose (
  site_id int not null references site on delete cascade,
  id text not null,
  name text not null,
  -- {"people"?, "pages"?, "goal"} as in the campaigns, which hold the same.
  shared jsonb not null,
  primary key (site_id, id),
  constraint purpose_name_unique unique (site_id, name),
  constraint purpose_name_length check (char_length(name) between 1 and 200)
);
-- No foreign key: a campaign comes back from the trash after its purpose has gone, too.
alter table campaign add column purpose_id text;
create index campaign_by_purpose on campaign (site_id, purpose_id) where purpose_id is not null;
