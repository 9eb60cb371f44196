-- Up Migration
-- What counts as success, named, for any number of campaigns: each holds a copy, with the goal's id in it, which is kept in step.
create table goal (
  site_id int not null references site on delete cascade,
  id text not null,
  name text not null,
  goal jsonb not null,
  revision int not null default 1,
  updated_at timestamptz not null default now(),
  primary key (site_id, id),
  constraint goal_name_unique unique (site_id, name),
  constraint goal_name_length check (char_length(name) between 1 and 200)
);
create index campaign_by_goal on campaign (site_id, (goal ->> 'named')) where goal ? 'named';

-- The one that the site is there for: Today counts it.
alter table site add column main_goal text;
alter table trash drop constraint bin_kind_check, add constraint trash_kind_check check (kind in ('segment', 'campaign', 'place', 'page_set', 'goal'));
