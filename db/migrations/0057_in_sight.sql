-- Up Migration
-- A message between the page's own elements is shown once it comes into sight: until then it was only put there.
alter table showing add column unseen boolean not null default false;
