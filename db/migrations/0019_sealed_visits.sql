-- Up Migration
-- The visits that began in a day (UTC) and what came on record of visitors in it, as one value of columns: what counting, lists of
-- visits and rehearsals read. Rebuilt at will from the raw rows, which stay the truth.
create table sealed_visits (
  site_id int not null references site on delete cascade,
  day date not null,
  visits int not null default 0,
  -- Missing until it is made, and where somebody was erased from it. Timelines apart: most questions do without.
  history bytea,
  timelines bytea,
  -- SHA-256 of each, so that damage is noticed.
  digests bytea[],
  sealed_at timestamptz,
  -- Of two who seal a day at once the one who began later writes it.
  attempt int not null default 0,
  primary key (site_id, day),
  constraint sealed_visits_whole check ((history is null) = (timelines is null) and (history is null) = (digests is null) and (history is null) = (sealed_at is null))
);
-- It is compressed already.
alter table sealed_visits alter column history set storage external, alter column timelines set storage external;

-- Sealed days that something has come for since. Rows are only added, so that writers do not wait for one another; whoever seals takes them away.
create table late_day (
  site_id int not null references site on delete cascade,
  day date not null,
  at timestamptz not null default clock_timestamp()
);
create index late_day_of_site on late_day (site_id, day);

create index visitor_change_recent on visitor_change (site_id, at);
create index showing_recent on showing (site_id, at);
create index outcome_recent on outcome (site_id, at);
create index event_by_visit on event (site_id, visit_id);

-- Sealing a day and writing to it wait for each other, as with posting lists. `days` are ints: day - date '2000-01-01', rising.
create function note_late(site int, days int[]) returns void language plpgsql as $$
declare
  one int;
begin
  foreach one in array days loop
    perform pg_advisory_xact_lock_shared(site, one);
  end loop;
  insert into late_day (site_id, day)
    select site_id, day from sealed_visits
     where site_id = site and day = any (select date '2000-01-01' + each from unnest(days) as each)
       and not exists (select from late_day where late_day.site_id = site and late_day.day = sealed_visits.day);
end $$;

-- Rows that belong to a visit belong to the day in which it began.
create function late_by_visit() returns trigger language plpgsql as $$
begin
  perform note_late(site_id, days) from (
    select site_id, array_agg(day order by day) as days from (
      select distinct touched.site_id, (visit.started_at at time zone 'UTC')::date - date '2000-01-01' as day
        from touched join visit on visit.site_id = touched.site_id and visit.id = touched.visit_id) as each
     group by site_id order by site_id) as sites;
  return null;
end $$;
create trigger page_view_late after insert on page_view referencing new table as touched for each statement execute function late_by_visit();
create trigger page_view_late_again after update on page_view referencing new table as touched for each statement execute function late_by_visit();
create trigger event_late after insert on event referencing new table as touched for each statement execute function late_by_visit();

create function late_by_instant() returns trigger language plpgsql as $$
begin
  perform note_late(site_id, days) from (
    select site_id, array_agg(day order by day) as days from (
      select distinct site_id, (at at time zone 'UTC')::date - date '2000-01-01' as day from touched) as each
     group by site_id order by site_id) as sites;
  return null;
end $$;
create trigger visitor_change_late after insert on visitor_change referencing new table as touched for each statement execute function late_by_instant();
create trigger showing_late after insert on showing referencing new table as touched for each statement execute function late_by_instant();
create trigger outcome_late after insert on outcome referencing new table as touched for each statement execute function late_by_instant();
create trigger visitor_change_late_again after update on visitor_change referencing new table as touched for each statement execute function late_by_instant();
create trigger showing_late_again after update on showing referencing new table as touched for each statement execute function late_by_instant();
create trigger outcome_late_again after update on outcome referencing new table as touched for each statement execute function late_by_instant();
create trigger visitor_change_gone after delete on visitor_change referencing old table as touched for each statement execute function late_by_instant();

create function late_by_start() returns trigger language plpgsql as $$
begin
  perform note_late(site_id, days) from (
    select site_id, array_agg(day order by day) as days from (
      select distinct site_id, (started_at at time zone 'UTC')::date - date '2000-01-01' as day from touched) as each
     group by site_id order by site_id) as sites;
  return null;
end $$;
create trigger visit_late after insert on visit referencing new table as touched for each statement execute function late_by_start();

-- A visit's last sign of life and what it came to say nothing that is sealed.
create function late_by_change() returns trigger language plpgsql as $$
begin
  perform note_late(site_id, days) from (
    select site_id, array_agg(day order by day) as days from (
      select distinct now.site_id, (each.at at time zone 'UTC')::date - date '2000-01-01' as day
        from before join now using (site_id, id) cross join lateral (values (before.started_at), (now.started_at)) as each (at)
       where (before.visitor_id, before.started_at, before.channel, before.referrer, before.utm, before.country, before.region, before.city, before.lat, before.lon, before.accuracy, before.weather)
             is distinct from (now.visitor_id, now.started_at, now.channel, now.referrer, now.utm, now.country, now.region, now.city, now.lat, now.lon, now.accuracy, now.weather)) as every
     group by site_id order by site_id) as sites;
  return null;
end $$;
create trigger visit_late_again after update on visit referencing old table as before new table as now for each statement execute function late_by_change();

-- Who is erased does not go on standing in what was made of them.
create function empty_sealed() returns trigger language plpgsql as $$
begin
  perform note_late(site_id, days) from (
    select site_id, array_agg(day order by day) as days from (
      select distinct site_id, (started_at at time zone 'UTC')::date - date '2000-01-01' as day from touched) as each
     group by site_id order by site_id) as sites;
  update sealed_visits set history = null, timelines = null, digests = null, sealed_at = null, attempt = attempt + 1
    from (select distinct site_id, (started_at at time zone 'UTC')::date as day from touched) as gone
   where sealed_visits.site_id = gone.site_id and sealed_visits.day = gone.day;
  return null;
end $$;
create trigger visit_gone after delete on visit referencing old table as touched for each statement execute function empty_sealed();
