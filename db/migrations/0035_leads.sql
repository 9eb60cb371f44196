-- Up Migration
-- What a lead agreed to, in the words that stood there; and what the team says of it.
alter table lead
  add column consent jsonb not null default '[]',
  add column tags text[] not null default '{}',
  add column note text not null default '',
  add constraint lead_tags_few check (cardinality(tags) <= 50),
  add constraint lead_note_length check (char_length(note) <= 10000);
create index lead_by_email on lead (site_id, lower(email)) where email is not null;
create index lead_by_campaign on lead (site_id, campaign_id, at desc);
