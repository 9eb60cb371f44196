-- Up Migration
-- Somebody is looked for by whatever they have ever said that they are, and not only by what they said last.
create index visitor_change_said on visitor_change (site_id, key, lower(value #>> '{}')) where kind = 'identity';
-- And by where the copy of a conversation went.
create index thread_copied on thread (site_id, lower(copy_to)) where copy_to is not null;
