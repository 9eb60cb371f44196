-- Up Migration
-- Where a visit came from is a fact of the visit, so that a past one is judged as it was. The network address is not kept.
alter table visit
  add column country text,
  add column region text,
  add column city text,
  add column lat double precision,
  add column lon double precision,
  -- Radius within which the position is right, in metres.
  add column accuracy double precision,
  add constraint visit_position_whole check ((lat is null) = (lon is null));
update visit set country = visitor.country, region = visitor.region, city = visitor.city
  from visitor where visitor.site_id = visit.site_id and visitor.id = visit.visitor_id;
alter table visitor drop column country, drop column region, drop column city;

create table place (
  site_id int not null references site on delete cascade,
  id text not null,
  name text not null,
  -- A GeoJSON Polygon or MultiPolygon, or {"type": "Circle", "center": [lon, lat], "radius": metres}.
  shape jsonb not null,
  primary key (site_id, id),
  constraint place_name_unique unique (site_id, name),
  constraint place_name_length check (char_length(name) between 1 and 200)
);

create table page_set (
  site_id int not null references site on delete cascade,
  id text not null,
  name text not null,
  patterns jsonb not null,
  primary key (site_id, id),
  constraint page_set_name_unique unique (site_id, name),
  constraint page_set_name_length check (char_length(name) between 1 and 200),
  constraint page_set_list check (jsonb_typeof(patterns) = 'array')
);
