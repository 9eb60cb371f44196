import { stringify } from 'csv-stringify/sync';
import type { ResultRow } from '@/core/results/report';
import { requireMember } from '@/server/auth/current';
import { findCampaign } from '@/server/db/campaigns';
import { readingOf } from '@/server/db/sharedPool';
import { answer, queryAs, Refused } from '@/server/http/api';
import { resultsTableSchema } from '@/server/http/requests';
import { campaignResults } from '@/server/results/report';

const COLUMNS = [
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

const line = (by: string, { value, met, shown, successes, rate, interval, against }: ResultRow): unknown[] => [
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

/** Every table of a campaign's results as CSV (RFC 4180). */
export async function GET(request: Request) {
  await requireMember();
  let csv = '';
  const response = await answer(request, {}, async ({ siteId }) => {
    const { campaign: id, from, to, zone, by: further } = queryAs(request, resultsTableSchema);
    const now = Date.now();
    const db = await (await readingOf(siteId)).caughtUp();
    const campaign = await findCampaign(db, siteId, id);
    if (!campaign) throw new Refused(404, 'notFound', 'That campaign is not here any more');
    const { rows, by } = await campaignResults(db, siteId, campaign, { from: from ?? 0, to: to ?? now, now, zone, by: further });
    const lines = [...rows.map((row) => line('variant', row)), ...by.flatMap((table) => table.rows.map((row) => line(table.by, row)))];
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
