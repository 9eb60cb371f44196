-- Up Migration
-- What a list last said of what takes long to count, shown until it is counted anew.
create table last_answer (
  site_id int not null references site on delete cascade,
  question text not null check (question in ('sizes', 'trends', 'portfolio')),
  answer jsonb not null,
  at timestamptz not null default now(),
  primary key (site_id, question)
);
