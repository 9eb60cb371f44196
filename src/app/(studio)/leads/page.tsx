import type { Metadata } from 'next';
import { leadTerms } from '@/core/leads/filter';
import { requireSite } from '@/server/auth/current';
import { listCampaigns } from '@/server/db/campaigns';
import { countLeads, leadVocabulary, listLeads } from '@/server/db/leads';
import { readingOf } from '@/server/db/sharedPool';
import { listRecordedPages } from '@/server/db/visits';
import { LeadScreen } from '@/studio/leads/LeadScreen';

export const metadata: Metadata = { title: 'Leads' };

const PAGE = 200;

export default async function LeadsPage({ searchParams }: { searchParams: Promise<Record<string, string | string[] | undefined>> }) {
  const { site } = await requireSite();
  const given = await searchParams;
  const pairs = Object.entries(given).flatMap(([name, values]) => [values ?? []].flat().map((value) => [name, value] as const));
  const { terms } = leadTerms(pairs);
  const after = pairs.find(([name]) => name === 'after')?.[1];
  const db = await (await readingOf(site.id)).caughtUp();
  const [leads, count, own, campaigns, pages] = await Promise.all([
    listLeads(db, site.id, { terms, after, limit: PAGE + 1 }),
    countLeads(db, site.id, terms),
    leadVocabulary(db, site.id),
    listCampaigns(db, site.id),
    listRecordedPages(db, site.id),
  ]);
  return (
    <LeadScreen
      key={after}
      leads={leads.slice(0, PAGE).map(({ id, email, fields, campaign, campaignId, url, consent, withdrawnAt, tags, at }) => ({
        id,
        email,
        answers: Object.entries(fields)
          .filter(([name, value]) => name !== 'email' && typeof value !== 'boolean')
          .map(([, value]) => String(value))
          .join(', '),
        campaign: campaign ?? campaignId,
        path: URL.canParse(url) ? new URL(url).pathname : url,
        agreed: consent.length > 0 && withdrawnAt === null,
        tags,
        at: at.getTime(),
      }))}
      count={count}
      older={leads.length > PAGE ? leads[PAGE - 1]?.id : undefined}
      isFirst={after === undefined}
      vocabulary={{
        campaigns: campaigns.map(({ id, name }) => ({ id, name })),
        pages: pages.map(({ path }) => ({ path })).slice(0, 300),
        ...own,
      }}
    />
  );
}
