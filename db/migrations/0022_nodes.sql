-- Up Migration
-- Other PostgreSQL servers, each with whole sites. This database keeps who may sign in, and which server holds which site; on a node
-- both columns of `site` stay empty.
create table node (
  name text primary key constraint node_name_shape check (name ~ '^[a-z][a-z0-9-]{0,39}$'),
  url text not null,
  added_at timestamptz not null default now()
);
alter table site
  -- Where its rows are; null: here.
  add column node text references node,
  -- Since when nothing of it may be written, because it is being moved.
  add column held_at timestamptz;
create index site_by_node on site (node) where node is not null;

drop trigger site_announced on site;
create trigger site_announced after delete or update of key, addresses, budget, consent, kept_parameters, person_secret, signed_persons, node, held_at on site
  for each row execute function announce_site();
