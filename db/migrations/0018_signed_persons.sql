-- Up Migration
-- Who a visitor is may be signed by the site's own server with this secret; where the switch is on, nothing else is believed.
alter table site
  add column person_secret text,
  add column signed_persons boolean not null default false;

alter table refused drop constraint refused_reason_known,
  add constraint refused_reason_known check (reason in ('robot', 'address', 'consent', 'person'));
