-- Up Migration
-- Who somebody says they are is signed by the site's server, or is a claim that anybody can make.
alter table visitor_change add column is_signed boolean not null default false;
-- How what is known of a visitor now was said.
alter table visitor add column email_signed boolean not null default false, add column customer_signed boolean not null default false;
