import { Readable } from 'node:stream';
import { stringify } from 'csv-stringify';
import { leadTerms } from '@/core/leads/filter';
import { requireMember } from '@/server/auth/current';
import { eachLead, leadVocabulary } from '@/server/db/leads';
import { readingOf } from '@/server/db/sharedPool';
import { harmless, leadColumns } from '@/server/exchange/leads';

/** Leads as CSV (RFC 4180), sent as they are read. */
export async function GET(request: Request) {
  const { siteId } = await requireMember();
  const db = await (await readingOf(siteId)).caughtUp();
  const { terms } = leadTerms(new URL(request.url).searchParams);
  const columns = leadColumns((await leadVocabulary(db, siteId)).answers);
  const csv = stringify({ header: true, columns: columns.map(({ name }) => name), record_delimiter: 'windows' });
  const rows = async function* (): AsyncGenerator<string[]> {
    for await (const lead of eachLead(db, siteId, { terms })) yield columns.map(({ of }) => harmless(of(lead)));
  };
  const sent = Readable.from(rows());
  sent.on('error', (error) => csv.destroy(error));
  return new Response(Readable.toWeb(sent.pipe(csv)) as ReadableStream, {
    headers: {
      'content-type': 'text/csv; charset=utf-8',
      'content-disposition': 'attachment; filename="leads.csv"',
      'cache-control': 'no-store',
    },
  });
}
