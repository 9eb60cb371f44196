// Moments that name an element of the page by a selector.
import { z } from 'zod';
import type { Truth } from '../../rules/truth';
import { quoted } from '../../rules/valueTest';
import type { Timeline } from '../timeline';
import { watchShare } from '../timeline';

export const selectorSchema = () => z.string().max(500).regex(/\S/);

/** Unknown where the selector was not watched when the page view was recorded. */
const unlessUnwatched = (line: Timeline, selector: string, holds: boolean): Truth =>
  !holds && line.before.watched && !line.before.watched.includes(selector) ? null : holds;

export const reachSchema = () => z.strictObject({ kind: z.literal('reach'), selector: selectorSchema() });
export type Reach = z.infer<ReturnType<typeof reachSchema>>;
export const reachHolds = ({ selector }: Reach, line: Timeline): Truth => unlessUnwatched(line, selector, line.reached.has(selector));
export const reachWords = ({ selector }: Reach): string => `reach the element ${quoted(selector)}`;

export const clickSchema = () => z.strictObject({ kind: z.literal('click'), selector: selectorSchema() });
export type Click = z.infer<ReturnType<typeof clickSchema>>;
export const clickHolds = ({ selector }: Click, line: Timeline): Truth => unlessUnwatched(line, selector, line.clickedOn.has(selector));
export const clickWords = ({ selector }: Click): string => `click on the element ${quoted(selector)}`;

export const visibleSchema = () =>
  z.strictObject({
    kind: z.literal('visible'),
    selector: selectorSchema(),
    share: z.number().min(1).max(100),
    seconds: z.number().min(0).max(86_400).optional(),
  });
export type Visible = z.infer<ReturnType<typeof visibleSchema>>;

const watchOf = ({ selector, share, seconds }: Visible, line: Timeline) =>
  watchShare(line, selector, share, Math.round((seconds ?? 0) * 1000));

export function visibleHolds(moment: Visible, line: Timeline, t: number): Truth {
  const watch = watchOf(moment, line);
  return unlessUnwatched(line, moment.selector, watch.done || (watch.since !== undefined && t - watch.since >= watch.ms));
}

export function visibleWakesAt(moment: Visible, line: Timeline, t: number): number {
  const { since, ms, done } = watchOf(moment, line);
  return !done && since !== undefined && since + ms > t ? since + ms : Infinity;
}

export function visibleWords({ selector, share, seconds }: Visible): string {
  return `have ${share} % of the element ${quoted(selector)} in view${seconds ? ` for ${seconds} s` : ''}`;
}
