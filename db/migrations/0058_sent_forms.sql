-- Up Migration
-- That a form was sent outlives what was typed into it: results count what happened, whatever is kept of leads.
create table sent_form (
  site_id int not null,
  lead_id uuid not null,
  campaign_id text not null,
  showing_id uuid,
  visitor_id int not null,
  at timestamptz not null,
  primary key (site_id, lead_id),
  constraint sent_form_visitor foreign key (site_id, visitor_id) references visitor (site_id, id) on delete cascade
);
create index sent_form_by_campaign on sent_form (site_id, campaign_id, at);
create index sent_form_by_showing on sent_form (site_id, showing_id);
create index sent_form_by_visitor on sent_form (site_id, visitor_id);
create index sent_form_recent on sent_form (site_id, at);

-- Whose visitor is erased with it leaves nothing here.
create function keep_sent_forms() returns trigger language plpgsql as $$
begin
  insert into sent_form (site_id, lead_id, campaign_id, showing_id, visitor_id, at)
  select gone.site_id, gone.id, gone.campaign_id, gone.showing_id, gone.visitor_id, gone.at
    from gone join visitor on visitor.site_id = gone.site_id and visitor.id = gone.visitor_id
  on conflict do nothing;
  return null;
end $$;
create trigger lead_sent after delete on lead referencing old table as gone for each statement execute function keep_sent_forms();

-- Forms that visitors sent, whether what they wrote is still kept or not.
create view form_sent as
  select site_id, id as lead_id, campaign_id, showing_id, visitor_id, at from lead
  union all
  select site_id, lead_id, campaign_id, showing_id, visitor_id, at from sent_form;
