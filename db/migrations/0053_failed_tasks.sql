-- Up Migration
-- What a job could not do of one thing, while it went on with the others: how often, why, and when it is tried again (null: never by itself).
create table failed_task (
  site_id int not null references site on delete cascade,
  job text not null,
  subject text not null,
  name text not null,
  words text not null,
  times int not null default 1,
  at timestamptz not null,
  next_at timestamptz,
  primary key (site_id, job, subject)
);
