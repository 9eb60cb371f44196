import { z } from 'zod';
import type { ActionKind } from '../actionKind';
import { wordsUpTo } from '../bounds';

const plain = () => z.union([z.string().max(2000), z.number(), z.boolean(), z.null()]);

const reportSchema = () =>
  z.strictObject({ kind: z.literal('report'), event: wordsUpTo(200), props: z.record(wordsUpTo(200), plain()).optional() });
export type ReportAction = z.infer<ReturnType<typeof reportSchema>>;

export const reportAction: ActionKind<ReportAction> = {
  kind: 'report',
  schema: reportSchema,
  label: 'Report an event',
  make: () => ({ kind: 'report', event: 'asked' }),
  words: ({ event }) => `reports ${event}`,
  ending: 'stays',
  example: (fc) => fc.constant({ kind: 'report' as const, event: 'asked' }),
};
