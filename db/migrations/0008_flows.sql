-- Up Migration
-- A campaign has a flow of messages instead of one message. Old messages are kept as they were, under `message`; reading a
-- campaign makes a flow of them .
alter table campaign add column flow jsonb, add column holdout double precision not null default 0, add column variants jsonb;
update campaign set flow = (select jsonb_build_object('message', body) from message
  where message.site_id = campaign.site_id and message.campaign_id = campaign.id order by message.position limit 1);
alter table campaign
  alter column flow set not null,
  add constraint campaign_flow_object check (jsonb_typeof(flow) = 'object'),
  add constraint campaign_holdout_range check (holdout >= 0 and holdout <= 0.9);
drop table message;

-- Which version of the first message was dealt out.
alter table showing add column variant text;
