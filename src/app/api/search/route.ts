import { z } from 'zod';
import { issueWords, parseWith } from '@/core/rules/parse';
import { answer, Refused } from '@/server/api';
import { searchSite } from '@/server/db/search';
import { pool } from '@/server/pool';

const searchSchema = z.strictObject({ text: z.string().trim().min(1).max(200) });

/** Everything of the site whose name contains `text`. */
export async function GET(request: Request) {
  return answer(request, {}, async ({ siteId }) => {
    const query = parseWith(searchSchema, Object.fromEntries(new URL(request.url).searchParams));
    if (!query.ok) throw new Refused(422, 'query.shape', query.issues.map(issueWords).join('; '), query.issues);
    return searchSite(pool(), siteId, query.value.text);
  });
}
