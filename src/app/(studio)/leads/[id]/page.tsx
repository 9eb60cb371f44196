import type { Metadata } from 'next';
import { notFound } from 'next/navigation';
import { fieldLabels } from '@/core/leads/consent';
import { requireSite } from '@/server/auth/current';
import { deliveriesOfLead } from '@/server/db/connections';
import { findLead } from '@/server/db/leads';
import { readingOf } from '@/server/db/sharedPool';
import { flowOfShowing } from '@/server/db/showings';
import { listRecordedPages, listVisits } from '@/server/db/visits';
import { LeadCard } from '@/studio/leads/LeadCard';
import { sectionsOf } from '@/studio/ribbon/layout';

export const metadata: Metadata = { title: 'Lead' };

export default async function LeadPage({ params }: { params: Promise<{ id: string }> }) {
  const { site } = await requireSite();
  const db = await (await readingOf(site.id)).caughtUp();
  const lead = await findLead(db, site.id, (await params).id);
  if (!lead) notFound();
  const { shown } = lead;
  const [flow, visits, pages, sent] = await Promise.all([
    shown ? flowOfShowing(db, site.id, shown.id) : undefined,
    shown ? listVisits(db, site.id, { limit: 1, visitIds: [shown.visit] }) : [],
    listRecordedPages(db, site.id),
    deliveriesOfLead(db, site.id, lead.id),
  ]);
  const labels = flow ? fieldLabels(flow) : {};
  const agreed = new Set(lead.consent.map(({ name }) => name));
  return (
    <LeadCard
      key={lead.id}
      lead={{
        id: lead.id,
        email: lead.email,
        answers: Object.entries(lead.fields)
          .filter(([name]) => name !== 'email' && !agreed.has(name))
          .map(([name, value]) => ({
            asked: labels[name] ?? name,
            answer: typeof value === 'boolean' ? (value ? 'yes' : 'no') : String(value ?? ''),
          })),
        agreed: lead.consent.map(({ words }) => words),
        withdrawnAt: lead.withdrawnAt?.getTime() ?? null,
        campaign: { id: lead.campaignId, name: lead.campaign ?? lead.campaignId, isHere: lead.campaign !== null },
        message: shown?.message ?? null,
        release: shown?.release ?? null,
        url: lead.url,
        visitor: lead.visitorId,
        instant: shown ? { view: shown.view, t: Math.max(0, lead.at.getTime() - shown.openedAt) } : null,
        tags: lead.tags,
        note: lead.note,
        at: lead.at.getTime(),
        sent: sent.map(({ connection, state, reason, at }) => ({ to: connection, state, reason, at: at.getTime() })),
        others: lead.others.map(({ id, at, campaign, campaignId, email }) => ({
          id,
          at: at.getTime(),
          campaign: campaign ?? campaignId,
          email,
        })),
      }}
      visits={visits}
      sections={sectionsOf(pages)}
    />
  );
}
