-- Up Migration
-- What a collector keeps of a site in memory: whoever changes it says so to whoever listens, in the moment it is committed.
create function announce_site() returns trigger language plpgsql as $$
declare
  changed jsonb := to_jsonb(coalesce(new, old));
  of_site int := coalesce(changed ->> 'site_id', changed ->> 'id');
begin
  -- A site that is gone has no key to look up any more.
  perform pg_notify('crindle', 'site ' || coalesce(changed ->> 'key', (select key from site where site.id = of_site), ''));
  return null;
end $$;
create trigger site_announced after delete or update of key, addresses, budget, consent, kept_parameters, person_secret, signed_persons on site
  for each row execute function announce_site();
create trigger release_announced after insert or update or delete on release for each row execute function announce_site();
