-- Leads are read a page at a time, newest first, from the last one of the page before.
drop index lead_recent;
create index lead_recent on lead (site_id, at desc, id desc);
