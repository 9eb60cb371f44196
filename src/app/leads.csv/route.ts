import { stringify } from 'csv-stringify/sync';
import { requireMember } from '@/server/auth/current';
import { listLeads } from '@/server/db/leads';
import { pool } from '@/server/pool';

const MOST = 100_000;

/** Leads as CSV (RFC 4180). */
export async function GET() {
  const { siteId } = await requireMember();
  const leads = await listLeads(pool(), siteId, { limit: MOST });
  const rows = leads.map(({ at, email, campaign, campaignId, url, fields }) =>
    [at.toISOString(), email, campaign ?? campaignId, url, JSON.stringify(fields)].map(harmless),
  );
  const csv = stringify([['at', 'email', 'campaign', 'page', 'fields'], ...rows], { record_delimiter: 'windows' });
  return new Response(csv, {
    headers: {
      'content-type': 'text/csv; charset=utf-8',
      'content-disposition': 'attachment; filename="leads.csv"',
      'cache-control': 'no-store',
    },
  });
}

/** A spreadsheet would run what begins like a formula; visitors type these texts. */
function harmless(value: string | null): string {
  return value === null ? '' : /^[=+\-@\t\r]/.test(value) ? `'${value}` : value;
}
