import { z } from 'zod';
import type { Timeline } from '../timeline';

export const idleSchema = () => z.strictObject({ kind: z.literal('idle'), seconds: z.number().gt(0).max(86_400) });
export type Idle = z.infer<ReturnType<typeof idleSchema>>;

const idleMs = ({ seconds }: Idle): number => Math.round(seconds * 1000);

/** At the instant of a signal, as it stood just before that signal. */
export function idleHolds(moment: Idle, line: Timeline, t: number): boolean {
  const since = line.signal ? line.idleSince : line.visible ? line.lastInput : undefined;
  return since !== undefined && t - since >= idleMs(moment);
}

export function idleWakesAt(moment: Idle, line: Timeline, t: number): number {
  const at = line.lastInput + idleMs(moment);
  return line.visible && at > t ? at : Infinity;
}

export const idleWords = ({ seconds }: Idle): string => `do nothing for ${seconds} s`;
