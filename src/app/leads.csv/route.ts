import { Readable } from 'node:stream';
import { stringify } from 'csv-stringify';
import { requireMember } from '@/server/auth/current';
import { eachLead } from '@/server/db/leads';
import { readingOf } from '@/server/db/sharedPool';

/** Leads as CSV (RFC 4180), sent as they are read. */
export async function GET() {
  const { siteId } = await requireMember();
  const csv = stringify({ header: true, columns: ['at', 'email', 'campaign', 'page', 'fields'], record_delimiter: 'windows' });
  const sent = Readable.from(rows(siteId));
  sent.on('error', (error) => csv.destroy(error));
  return new Response(Readable.toWeb(sent.pipe(csv)) as ReadableStream, {
    headers: {
      'content-type': 'text/csv; charset=utf-8',
      'content-disposition': 'attachment; filename="leads.csv"',
      'cache-control': 'no-store',
    },
  });
}

async function* rows(siteId: number) {
  for await (const { at, email, campaign, campaignId, url, fields } of eachLead(await (await readingOf(siteId)).caughtUp(), siteId))
    yield [at.toISOString(), email, campaign ?? campaignId, url, JSON.stringify(fields)].map(harmless);
}

/** A spreadsheet would run what begins like a formula; visitors type these texts. */
function harmless(value: string | null): string {
  return value === null ? '' : /^[=+\-@\t\r]/.test(value) ? `'${value}` : value;
}
