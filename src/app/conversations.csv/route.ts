import { download } from '@/server/http/api';
import { readingOf } from '@/server/db/sharedPool';
import { CONVERSATION_COLUMNS, eachConversation } from '@/server/exchange/conversations';
import { harmless } from '@/server/exchange/leads';
import { csvResponse } from '@/server/http/csv';

/** Conversations that wanted a person, the latest first: when they began, who answered and how long that took; of the campaign that is named, or all. */
export async function GET(request: Request) {
  return download(request, async ({ siteId }) => {
    const db = await (await readingOf(siteId)).caughtUp();
    const campaign = new URL(request.url).searchParams.get('campaign') ?? undefined;
    const rows = async function* (): AsyncGenerator<string[]> {
      for await (const row of eachConversation(db, siteId, campaign)) yield CONVERSATION_COLUMNS.map((name) => harmless(row[name]));
    };
    return csvResponse('conversations.csv', CONVERSATION_COLUMNS, rows());
  });
}
