-- Also noted: an older page script out of a cache, and a page's own policy that keeps the script away.
alter table refused drop constraint refused_reason_known,
  add constraint refused_reason_known check (reason in ('robot', 'address', 'consent', 'person', 'version', 'policy'));
create index site_addresses on site using gin (addresses);
