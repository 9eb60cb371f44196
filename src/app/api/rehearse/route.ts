import { z } from 'zod';
import { placeOf } from '@/core/messages/message';
import { startOf } from '@/core/flows/flow';
import type { Place } from '@/core/pacing/place';
import type { CampaignToRehearse } from '@/core/rehearsal/rehearse';
import { ruleSchema } from '@/core/rules/schema';
import { answerInLines, bodyAs } from '@/server/api';
import { listCampaigns } from '@/server/db/campaigns';
import { pool } from '@/server/pool';
import { think } from '@/server/thinking/think';

const placeSchema = z
  .string()
  .max(600)
  .regex(/^(overlay|top|bottom|corner|none|slot:.+)$/)
  .transform((text) => text as Place);
const rehearseSchema = z.strictObject({
  campaign: z.string().min(1).max(100),
  place: placeSchema,
  rule: ruleSchema,
  days: z.union([z.literal(7), z.literal(30), z.literal(90)]),
  /** With the campaigns that are live, in the site's order and under its budget. */
  withOthers: z.boolean(),
});

/** A rule over recorded visits; answers line by line as more is known. */
export async function POST(request: Request) {
  return answerInLines(request, async ({ siteId }) => {
    const { campaign, place, rule, days, withOthers } = await bodyAs(request, rehearseSchema);
    const live = withOthers
      ? (await listCampaigns(pool(), siteId))
          .filter(({ status, id }) => status === 'live' || id === campaign)
          .map((one): CampaignToRehearse => ({ id: one.id, rule: one.rule, place: placeOf(startOf(one.flow)) }))
      : [];
    return (emit) =>
      think(
        { kind: 'rehearse', site: siteId, campaign: { id: campaign, place, rule }, days, live },
        { signal: request.signal, onPart: emit },
      );
  });
}
