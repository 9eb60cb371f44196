-- Up Migration
-- Leads are found by words in them, among a million too: an index of trigrams over what each of them says.
create extension if not exists pg_trgm;
create function lead_words(email text, url text, note text, fields jsonb) returns text language sql immutable parallel safe as $$
  select lower(coalesce(email, '') || ' ' || url || ' ' || note || ' '
    || coalesce((select string_agg(given.value, ' ') from jsonb_each_text(fields) as given), ''))
$$;
alter table lead add column words text generated always as (lead_words(email, url, note, fields)) stored;
create index lead_by_words on lead using gin (words gin_trgm_ops);
