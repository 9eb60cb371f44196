-- Up Migration
-- What happened lately, on Today and in lists of what can be named: without it every event of a site is read, once a second for whoever looks.
create index event_recent on event (site_id, at);
-- The tags that leads have, to filter by: few have any.
create index lead_tagged on lead (site_id) where tags <> '{}';
