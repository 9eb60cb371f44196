-- Up Migration
-- By which way a message was dismissed; and which of a flow's messages were seen after the first, in their order.
alter table outcome add column how text,
  add constraint outcome_how_known check (how in ('button', 'dim', 'escape', 'answer'));
create table flow_step (
  site_id int not null,
  showing_id uuid not null,
  at timestamptz not null,
  message text not null,
  primary key (site_id, showing_id, at, message),
  constraint flow_step_showing foreign key (site_id, showing_id) references showing on delete cascade
);

-- What results read of a day: who met what, and what they did with it. A day sealed before is sealed anew for it.
alter table sealed_visits add column results bytea;
alter table sealed_visits alter column results set storage external;

create trigger lead_late after insert on lead referencing new table as touched for each statement execute function late_by_instant();
create trigger lead_late_again after update on lead referencing new table as touched for each statement execute function late_by_instant();
create trigger flow_step_late after insert on flow_step referencing new table as touched for each statement execute function late_by_instant();

-- Who is erased does not go on standing in a day that their visit went on into, or in which they wrote.
create function empty_sealed_by_instant() returns trigger language plpgsql as $$
begin
  perform note_late(site_id, days) from (
    select site_id, array_agg(day order by day) as days from (
      select distinct site_id, (at at time zone 'UTC')::date - date '2000-01-01' as day from touched) as each
     group by site_id order by site_id) as sites;
  update sealed_visits set history = null, timelines = null, results = null, digests = null, sealed_at = null, attempt = attempt + 1
    from (select distinct site_id, (at at time zone 'UTC')::date as day from touched) as gone
   where sealed_visits.site_id = gone.site_id and sealed_visits.day = gone.day;
  return null;
end $$;
create trigger showing_gone after delete on showing referencing old table as touched for each statement execute function empty_sealed_by_instant();
create trigger outcome_gone after delete on outcome referencing old table as touched for each statement execute function empty_sealed_by_instant();
create trigger lead_gone after delete on lead referencing old table as touched for each statement execute function empty_sealed_by_instant();
create trigger flow_step_gone after delete on flow_step referencing old table as touched for each statement execute function empty_sealed_by_instant();

create or replace function empty_sealed() returns trigger language plpgsql as $$
begin
  perform note_late(site_id, days) from (
    select site_id, array_agg(day order by day) as days from (
      select distinct site_id, (started_at at time zone 'UTC')::date - date '2000-01-01' as day from touched) as each
     group by site_id order by site_id) as sites;
  update sealed_visits set history = null, timelines = null, results = null, digests = null, sealed_at = null, attempt = attempt + 1
    from (select distinct site_id, (started_at at time zone 'UTC')::date as day from touched) as gone
   where sealed_visits.site_id = gone.site_id and sealed_visits.day = gone.day;
  return null;
end $$;
