-- Where somebody has moved a campaign's messages to on its board, by message: for whoever of the team opens it next. Not part of what is published.
alter table campaign add column board jsonb not null default '{}';
