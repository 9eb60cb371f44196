-- Up Migration
-- Sealing a day and writing to it wait for each other: a view that is being written while its day is sealed would otherwise
-- be missing from the sealed day. Writers share the lock of their day, a sealer takes it alone . Every day
-- is looked at, not only those that are past, because a transaction may begin before midnight and end after it.
create or replace function open_sealed_days() returns trigger language plpgsql as $$
begin
  perform pg_advisory_xact_lock_shared(site_id, day - date '2000-01-01')
    from (select distinct site_id, (at at time zone 'UTC')::date as day from touched order by 1, 2) as days;
  delete from sealed_day using (select distinct site_id, (at at time zone 'UTC')::date as day from touched) as late
   where sealed_day.site_id = late.site_id and sealed_day.day = late.day;
  return null;
end $$;
