-- Up Migration
-- Whether an email is known to be its member's own: a link was mailed to it, and not handed over by whoever invited them.
alter table invitation add column is_handed boolean not null default false;
alter table member add column is_email_proven boolean not null default true;
-- When the second step was set up: one that somebody else has just set up goes with the password that they had.
alter table member add column totp_at timestamptz;
