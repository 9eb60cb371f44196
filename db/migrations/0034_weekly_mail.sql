-- Up Migration
-- Who wants the week's results by mail, on Monday mornings of their own zone; `sent_for`: the Monday (there) that the last one came on.
create table weekly_mail (
  site_id int not null references site on delete cascade,
  member_id int not null references member on delete cascade,
  zone text not null,
  sent_for date not null,
  primary key (site_id, member_id)
);
