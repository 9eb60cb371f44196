-- Up Migration
-- How often visitors of a site have been taken away, so that whoever keeps what they did notices it without counting everybody.
create table visitors_gone (
  site_id int primary key references site on delete cascade,
  times bigint not null
);

create function note_visitors_gone() returns trigger language plpgsql as $$
begin
  insert into visitors_gone as noted (site_id, times)
    select distinct site_id, 1 from gone where exists (select from site where id = site_id)
    on conflict (site_id) do update set times = noted.times + 1;
  return null;
end $$;
create trigger visitors_gone after delete on visitor referencing old table as gone
  for each statement execute function note_visitors_gone();
