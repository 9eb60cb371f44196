import { leadTerms } from '@/core/leads/filter';
import { download } from '@/server/http/api';
import { eachLead, leadVocabulary } from '@/server/db/leads';
import { readingOf } from '@/server/db/sharedPool';
import { harmless, leadColumns } from '@/server/exchange/leads';
import { csvResponse } from '@/server/http/csv';

/** Leads as CSV, sent as they are read. */
export async function GET(request: Request) {
  return download(request, async ({ siteId }) => {
    const db = await (await readingOf(siteId)).caughtUp();
    const { terms } = leadTerms(new URL(request.url).searchParams);
    const columns = leadColumns((await leadVocabulary(db, siteId)).answers);
    const rows = async function* (): AsyncGenerator<string[]> {
      for await (const lead of eachLead(db, siteId, { terms })) yield columns.map(({ of }) => harmless(of(lead)));
    };
    return csvResponse(
      'leads.csv',
      columns.map(({ name }) => name),
      rows(),
    );
  });
}
