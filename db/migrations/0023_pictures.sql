-- Up Migration
-- Pictures of messages, as they are served: encoded anew, by what they hold. Whoever has one has it for ever, so releases that are out go on showing it.
create table picture (
  site_id int not null references site on delete cascade,
  hash text not null constraint picture_hash_shape check (hash ~ '^[A-Za-z0-9_-]{22}$'),
  name text not null,
  width int not null,
  height int not null,
  bytes bytea not null,
  uploaded_at timestamptz not null default now(),
  primary key (site_id, hash)
);
-- WebP is compressed already.
alter table picture alter column bytes set storage external;
create index picture_newest on picture (site_id, uploaded_at desc);
