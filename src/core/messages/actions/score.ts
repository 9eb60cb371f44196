import { z } from 'zod';
import type { ActionKind } from '../actionKind';

const scoreSchema = () => z.strictObject({ kind: z.literal('score'), points: z.number().min(-1000).max(1000) });
export type ScoreAction = z.infer<ReturnType<typeof scoreSchema>>;

export const scoreAction: ActionKind<ScoreAction> = {
  kind: 'score',
  schema: scoreSchema,
  label: 'Give points',
  make: () => ({ kind: 'score', points: 1 }),
  words: ({ points }) => `gives ${points} ${points === 1 ? 'point' : 'points'}`,
  ending: 'stays',
  example: (fc) => fc.integer({ min: -9, max: 9 }).map((points) => ({ kind: 'score' as const, points })),
};
