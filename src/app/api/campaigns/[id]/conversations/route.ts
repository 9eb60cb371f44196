import { conversationResults } from '@/server/db/conversationResults';
import { readingOf } from '@/server/db/sharedPool';
import { answer } from '@/server/http/api';

const instant = (text: string | null): number | undefined => (text !== null && Number.isFinite(Number(text)) ? Number(text) : undefined);

/** What came of a campaign's conversations with people; `from` and `to`: UTC ms. */
export async function GET(request: Request, { params }: { params: Promise<{ id: string }> }) {
  return answer(request, async ({ siteId }) => {
    const { searchParams } = new URL(request.url);
    return conversationResults(await (await readingOf(siteId)).caughtUp(), siteId, {
      campaign: (await params).id,
      from: instant(searchParams.get('from')),
      to: instant(searchParams.get('to')),
      now: Date.now(),
    });
  });
}
