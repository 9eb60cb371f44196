-- Up Migration
-- When somebody who answers is busy elsewhere: by a calendar that is fetched every hour, or a file of one.
alter table colleague
  add column calendar_url text not null default '',
  add column calendar_private boolean not null default false,
  add column calendar_text text,
  -- [from, to], UTC ms, of the weeks to come.
  add column busy jsonb not null default '[]',
  add column calendar_at timestamptz,
  -- Why it could not be read the last time; what was known stays.
  add column calendar_note text not null default '';
