-- Whether somebody was there to chat, dated like what else is on record of a visitor: noted where a rule asks, and when the answer changes.
alter table visitor_change drop constraint visitor_change_kind_known;
-- Every row that stands met the narrower list.
alter table visitor_change
  add constraint visitor_change_kind_known check (kind in ('trait', 'tag', 'score', 'identity', 'staffed')) not valid;
