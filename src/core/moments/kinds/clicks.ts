import { z } from 'zod';
import type { Timeline } from '../timeline';

export const clicksSchema = () =>
  z.strictObject({ kind: z.literal('clicks'), atLeast: z.int().min(1).max(1000), of: z.enum(['page', 'visit']).optional() });
export type Clicks = z.infer<ReturnType<typeof clicksSchema>>;

export function clicksHolds({ atLeast, of }: Clicks, line: Timeline): boolean {
  return line.clicks + (of === 'visit' ? (line.before.visitClicks ?? 0) : 0) >= atLeast;
}

export function clicksWords({ atLeast, of }: Clicks): string {
  return `click ${atLeast} ${atLeast === 1 ? 'time' : 'times'} ${of === 'visit' ? 'in the visit' : 'on the page'}`;
}
