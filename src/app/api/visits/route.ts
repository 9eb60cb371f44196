import { issueWords, parseWith } from '@/core/parsing/parse';
import { termsFromParameters } from '@/core/visits/filter';
import { answer, Refused } from '@/server/http/api';
import { listSomeVisits } from '@/server/db/visits';
import { readingOf } from '@/server/db/sharedPool';
import { visitsPageSchema } from '@/server/http/requests';
import { analyse } from '@/server/analysis/analyse';

const OTHERS = Object.keys(visitsPageSchema.shape);

/** Recorded visits that meet the terms of the address, newest first; how many they are, and some of them to draw. */
export async function GET(request: Request) {
  return answer(request, async ({ siteId }) => {
    const { searchParams } = new URL(request.url);
    const page = parseWith(visitsPageSchema, Object.fromEntries(OTHERS.map((name) => [name, searchParams.get(name) ?? undefined])));
    const { terms, issues } = termsFromParameters(searchParams, OTHERS);
    const wrong = [...(page.ok ? [] : page.issues), ...issues];
    if (!page.ok || wrong.length) throw new Refused(422, 'query.shape', wrong.map(issueWords).join('; '), wrong);
    const { ids, ...sizes } = await analyse({ kind: 'visits', site: siteId, terms, ...page.value }, { signal: request.signal });
    return { ...sizes, list: await listSomeVisits(await readingOf(siteId), siteId, ids) };
  });
}
