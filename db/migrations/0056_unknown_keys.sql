-- Up Migration
-- A page of a site that names no site’s key: told where the site’s people look.
alter table refused drop constraint refused_reason_known;
alter table refused
  add constraint refused_reason_known check (reason in ('robot', 'address', 'consent', 'person', 'version', 'policy', 'key')) not valid;
alter table refused validate constraint refused_reason_known;
create index site_by_address on site using gin (addresses);
