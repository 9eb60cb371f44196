import { Readable } from 'node:stream';
import { leadTerms } from '@/core/leads/filter';
import { download } from '@/server/http/api';
import { eachLead } from '@/server/db/leads';
import { readingOf } from '@/server/db/sharedPool';
import { leadLine } from '@/server/exchange/leads';

/** Leads as JSON lines, sent as they are read. */
export async function GET(request: Request) {
  return download(request, async ({ siteId }) => {
    const db = await (await readingOf(siteId)).caughtUp();
    const { terms } = leadTerms(new URL(request.url).searchParams);
    const lines = async function* (): AsyncGenerator<string> {
      for await (const lead of eachLead(db, siteId, { terms })) yield `${leadLine(lead)}\n`;
    };
    return new Response(Readable.toWeb(Readable.from(lines())) as ReadableStream, {
      headers: {
        'content-type': 'application/jsonl; charset=utf-8',
        'content-disposition': 'attachment; filename="leads.jsonl"',
        'cache-control': 'no-store',
      },
    });
  });
}
