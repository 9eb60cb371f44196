import { lintRule, lintSegment } from '@/core/rules/lint';
import { poolOf } from '@/server/db/sharedPool';
import { answer, bodyAs } from '@/server/http/api';
import { lintSchema } from '@/server/http/requests';
import { loadLintContext } from '@/server/lint/context';

/** What is wrong with a rule or a segment, by everything that the site has on record, each with the change that fixes it. */
export async function POST(request: Request) {
  return answer(request, async ({ siteId }) => {
    const asked = await bodyAs(request, lintSchema);
    const context = await loadLintContext(poolOf(siteId), siteId, Date.now());
    return { findings: 'rule' in asked ? lintRule(asked.rule, context) : lintSegment(asked.segment, context) };
  });
}
