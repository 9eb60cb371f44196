-- Up Migration
-- What counting worked out of everybody, taken up again after a start so that only whoever has come or is due since is looked at: of each
-- condition what it says of each visitor and for how long. The row 0 tells of what records it was made. Gone whenever somebody is erased.
create table standing (
  site_id int not null references site on delete cascade,
  nth int not null,
  -- As it was written: conditions are told apart by their text.
  head json not null,
  bytes bytea not null,
  primary key (site_id, nth)
);
-- It is compressed already.
alter table standing alter column bytes set storage external;

-- How many people segments had at midnights that are over, by a digest of what was asked: each with a digest of all that it was counted of.
create table segment_line (
  site_id int not null references site on delete cascade,
  question text not null,
  midnights jsonb not null,
  used_on date not null,
  primary key (site_id, question)
);
