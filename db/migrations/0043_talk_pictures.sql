-- Up Migration
-- Pictures that are sent in conversations, as they are shown: encoded anew. What no line shows is swept.
create table line_picture (
  site_id int not null,
  id uuid not null,
  thread_id uuid not null,
  visitor_id int not null,
  width int not null,
  height int not null,
  bytes bytea not null,
  at timestamptz not null default clock_timestamp(),
  primary key (site_id, id),
  constraint line_picture_visitor foreign key (site_id, visitor_id) references visitor on delete cascade
);
alter table line_picture alter column bytes set storage external;
create index line_picture_of_visitor on line_picture (site_id, visitor_id, at);
create index line_picture_newest on line_picture (at);
alter table line add column picture uuid;
-- One of the site's pictures, by its hash.
alter table colleague add column picture text;
-- Where a copy of a closed conversation goes, and when it went.
alter table thread add column copy_to text;
alter table thread add column copied_at timestamptz;
create index thread_copy_wanted on thread (site_id) where copy_to is not null and copied_at is null;
