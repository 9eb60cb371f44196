-- Up Migration
-- Smaller versions of a picture, each a row of its own: [{"hash", "width"}], the smallest first. They are not listed themselves.
alter table picture add column sizes jsonb not null default '[]';
alter table picture add column is_size boolean not null default false;

-- What the team begins campaigns from, beside what ships.
create table starting_point (
  site_id int not null references site on delete cascade,
  id text not null,
  name text not null,
  -- When one takes it, in a sentence.
  use text not null,
  -- A whole campaign, as exported.
  document jsonb not null,
  made_at timestamptz not null default now(),
  primary key (site_id, id),
  constraint starting_point_name_unique unique (site_id, name)
);
