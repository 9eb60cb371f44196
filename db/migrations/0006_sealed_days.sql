-- Up Migration
-- Page views of past days as posting lists, for counting segments: rebuilt at will from the raw rows. A page is told from
-- others by everything that a pattern can ask of it.

create function page_digest(url text, title text, labels text[]) returns bytea language sql immutable as $$
  select sha256(convert_to(url || E'\x01' || coalesce(E'\x02' || title, '') || E'\x01' || coalesce(E'\x02' || array_to_string(labels, E'\x03'), ''), 'UTF8'))
$$;

create table page_entry (
  site_id int not null references site on delete cascade,
  id int not null,
  url text not null,
  title text,
  labels text[],
  digest bytea generated always as (page_digest(url, title, labels)) stored,
  primary key (site_id, id),
  constraint page_entry_unique unique (site_id, digest)
);

create table sealed_day (
  site_id int not null references site on delete cascade,
  day date not null,
  views int not null,
  -- uint32 pairs, little end first: page number and how many views of it follow in the columns below.
  pages bytea not null,
  -- uint32 each: visitor number; ms since the day's midnight (UTC); engaged ms. uint8: deepest scroll.
  visitors bytea not null,
  instants bytea not null,
  engaged bytea not null,
  scrolls bytea not null,
  sealed_at timestamptz not null default now(),
  primary key (site_id, day),
  constraint sealed_day_lengths check (octet_length(visitors) = views * 4 and octet_length(instants) = views * 4 and octet_length(engaged) = views * 4 and octet_length(scrolls) = views)
);

-- Read often and hardly made smaller by compression, which would have to be undone each time.
alter table sealed_day
  alter column visitors set storage external,
  alter column instants set storage external,
  alter column engaged set storage external,
  alter column scrolls set storage external;

-- A view that comes or changes late opens its day again. Statement by statement, and only for days that are past.
create function open_sealed_days() returns trigger language plpgsql as $$
begin
  delete from sealed_day using (select distinct site_id, (at at time zone 'UTC')::date as day from touched where at < date_trunc('day', now())) as late
   where sealed_day.site_id = late.site_id and sealed_day.day = late.day;
  return null;
end $$;
create trigger page_view_inserted after insert on page_view referencing new table as touched
  for each statement execute function open_sealed_days();
create trigger page_view_updated after update on page_view referencing new table as touched
  for each statement execute function open_sealed_days();
