import { stringify } from 'csv-stringify/sync';
import type { ResultRow } from '@/core/results/report';
import { findCampaign, listCampaigns } from '@/server/db/campaigns';
import { readingOf } from '@/server/db/sharedPool';
import { answer, queryAs, Refused } from '@/server/http/api';
import { resultsTableSchema } from '@/server/http/requests';
import { campaignsMet } from '@/server/results/all';
import { campaignResults } from '@/server/results/report';

const COLUMNS = [
  'campaign',
  'by',
  'value',
  'met',
  'shown',
  'successes',
  'rate',
  'rate_low',
  'rate_high',
  'against',
  'difference',
  'span_low',
  'span_high',
];

const line = (campaign: string, by: string, { value, met, shown, successes, rate, interval, against }: ResultRow): unknown[] => [
  harmless(campaign),
  by,
  harmless(value),
  met,
  shown,
  successes,
  rate,
  interval?.[0],
  interval?.[1],
  against?.value,
  against?.difference,
  against?.span[0],
  against?.span[1],
];

/** Every table of a campaign's results as CSV (RFC 4180); without a campaign the versions of each that was met. */
export async function GET(request: Request) {
  let csv = '';
  const response = await answer(request, async ({ siteId }) => {
    const { campaign: id, from, to, zone, by: further } = queryAs(request, resultsTableSchema);
    const now = Date.now();
    const db = await (await readingOf(siteId)).caughtUp();
    const chosen = id === undefined ? undefined : await findCampaign(db, siteId, id);
    if (id !== undefined && !chosen) throw new Refused(404, 'notFound', 'That campaign is not here any more');
    const met = chosen ? [] : await campaignsMet(db, siteId, from ?? 0);
    const all = chosen ? [chosen] : (await listCampaigns(db, siteId)).filter((one) => met.some(({ id: other }) => other === one.id));
    const lines: unknown[][] = [];
    for (const campaign of all) {
      const { rows, by } = await campaignResults(db, siteId, campaign, { from: from ?? 0, to: to ?? now, now, zone, by: further });
      lines.push(...rows.map((row) => line(campaign.name, 'variant', row)));
      if (chosen) lines.push(...by.flatMap((table) => table.rows.map((row) => line(campaign.name, table.by, row))));
    }
    csv = stringify(lines, { header: true, columns: COLUMNS, record_delimiter: 'windows' });
  });
  if (!response.ok) return response;
  return new Response(csv, {
    headers: {
      'content-type': 'text/csv; charset=utf-8',
      'content-disposition': 'attachment; filename="results.csv"',
      'cache-control': 'no-store',
    },
  });
}

/** A spreadsheet would run what begins like a formula; addresses of pages are typed by anybody. */
const harmless = (value: string): string => (/^[=+\-@\t\r]/.test(value) ? `'${value}` : value);
