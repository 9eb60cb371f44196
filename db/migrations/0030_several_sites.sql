-- Which of a member's sites a session is at; null: the first.
alter table session add column site_id int references site on delete set null;
