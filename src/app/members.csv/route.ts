import type { MemberChoice } from '@/core/people/memberColumns';
import { MEMBER_CHOICES, MEMBER_COLUMNS } from '@/core/people/memberColumns';
import { download } from '@/server/http/api';
import { findSegment } from '@/server/db/segments';
import { readingOf } from '@/server/db/sharedPool';
import { harmless } from '@/server/exchange/leads';
import { memberColumnsSchema, segmentMembers } from '@/server/exchange/members';
import { csvResponse } from '@/server/http/csv';

/** Whoever is in the segment `id` now: the columns `column`, of everybody or of those with an email (`who`). */
export async function GET(request: Request) {
  return download(request, async ({ siteId }) => {
    const { searchParams } = new URL(request.url);
    const bad = (message: string): Response => Response.json({ error: { code: 'input', message } }, { status: 400 });
    const columns = memberColumnsSchema.safeParse(searchParams.getAll('column'));
    if (!columns.success)
      return bad(`column: met ${searchParams.getAll('column').join(', ') || 'nothing'}, expected some of ${MEMBER_COLUMNS.join(', ')}`);
    const who = (searchParams.get('who') ?? 'all') as MemberChoice;
    if (!MEMBER_CHOICES.includes(who)) return bad(`who: met ${who}, expected one of ${MEMBER_CHOICES.join(', ')}`);
    const db = await (await readingOf(siteId)).caughtUp();
    const segment = await findSegment(db, siteId, searchParams.get('id') ?? '');
    if (!segment) return Response.json({ error: { code: 'notFound', message: 'This segment is not here any more' } }, { status: 404 });
    const rows = async function* (): AsyncGenerator<string[]> {
      for await (const member of segmentMembers(db, siteId, { segment, now: Date.now(), who }))
        yield columns.data.map((name) => harmless(member[name]));
    };
    return csvResponse('members.csv', columns.data, rows());
  });
}
