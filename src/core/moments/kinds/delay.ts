import { z } from 'zod';
import type { Timeline } from '../timeline';
import { ENGAGED_MS, engagedAt } from '../timeline';

export const delaySchema = () =>
  z.strictObject({
    kind: z.literal('delay'),
    seconds: z.number().min(0).max(86_400),
    of: z.enum(['page', 'visit']).optional(),
    counting: z.enum(['open', 'engaged']).optional(),
  });
export type Delay = z.infer<ReturnType<typeof delaySchema>>;

const targetMs = ({ seconds }: Delay): number => Math.round(seconds * 1000);

function clockAt({ of, counting }: Delay, line: Timeline, t: number): number {
  if (counting === 'engaged') return engagedAt(line, t) + (of === 'visit' ? (line.before.visitEngaged ?? 0) : 0);
  return t + (of === 'visit' ? (line.before.visitElapsed ?? 0) : 0);
}

export const delayHolds = (moment: Delay, line: Timeline, t: number): boolean => clockAt(moment, line, t) >= targetMs(moment);

/** When the clock will reach the delay if no further signal comes; Infinity if it never will, or has. */
export function delayWakesAt(moment: Delay, line: Timeline, t: number): number {
  const left = targetMs(moment) - clockAt(moment, line, t);
  if (left <= 0) return Infinity;
  if (moment.counting !== 'engaged') return t + left;
  return line.visible && t + left <= line.lastInput + ENGAGED_MS ? t + left : Infinity;
}

export function delayWords({ seconds, of, counting }: Delay): string {
  const verb = counting === 'engaged' ? 'are engaged for' : 'stay for';
  return `${verb} ${seconds} s ${of === 'visit' ? 'in the visit' : 'on the page'}`;
}
