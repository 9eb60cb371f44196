-- Up Migration
-- A month's partitions take over what an odd clock has put into the default ones; made while nobody writes there.
create or replace function add_partitions(month date) returns void language plpgsql as $$
declare
  start date := date_trunc('month', month);
  low uuid := uuid_floor(start);
  high uuid := uuid_floor((start + interval '1 month')::date);
  parent text;
  child text;
  key text;
begin
  foreach parent in array array['page_view', 'signal_piece'] loop
    child := parent || to_char(start, '_YYYYMM');
    continue when to_regclass(child) is not null;
    key := case parent when 'page_view' then 'id' else 'view_id' end;
    execute format('lock table %I in share row exclusive mode', parent);
    execute format('create table %I (like %I including defaults including constraints including storage)', child, parent);
    execute format('with odd as (delete from %I where %I >= %L and %I < %L returning *) insert into %I select * from odd',
      parent || '_rest', key, low, key, high, child);
    execute format('alter table %I attach partition %I for values from (%L) to (%L)', parent, child, low, high);
  end loop;
end $$;

-- Which piece last said each of these: one that comes late or again does not bring older words back.
alter table page_view
  add column title_piece int not null default -1,
  add column labels_piece int not null default -1,
  add column watched_piece int not null default -1,
  add column scroll_piece int not null default -1;
-- The instant of the page view that told where a visit came from: the earliest counts, in whatever order they arrive.
alter table visit add column source_at timestamptz;
alter table visitor add column ad_blocker_at timestamptz;

-- Faults that have been counted, so that none is counted twice; swept after two days.
create table fault_counted (
  site_id int not null references site on delete cascade,
  id uuid not null,
  day date not null default current_date,
  primary key (site_id, id)
);
create index fault_counted_day on fault_counted (day);
-- A form may arrive before the showing that it stands in.
create index lead_by_showing on lead (site_id, showing_id);
