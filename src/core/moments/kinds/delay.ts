import { z } from 'zod';
import type { Timeline } from '../timeline';
import { ENGAGED_MS, engagedAt, msOf } from '../timeline';
import type { MomentKind, MomentRuntime } from '../kind';
import { spoken, thresholdOf } from '../../typing/spoken';
import { maybe, shape } from '../../testing/examples';

export const delaySchema = () =>
  z.strictObject({
    kind: z.literal('delay'),
    seconds: z.number().min(0).max(86_400),
    of: z.enum(['page', 'visit']).optional(),
    counting: z.enum(['open', 'engaged']).optional(),
  });
export type Delay = z.infer<ReturnType<typeof delaySchema>>;

function clockAt({ of, counting }: Delay, line: Timeline, t: number): number {
  if (counting === 'engaged') return engagedAt(line, t) + (of === 'visit' ? (line.before.visitEngaged ?? 0) : 0);
  return t + (of === 'visit' ? (line.before.visitElapsed ?? 0) : 0);
}

export const delayHolds = (moment: Delay, line: Timeline, t: number): boolean => clockAt(moment, line, t) >= msOf(moment);

/** When the clock will reach the delay if no further signal comes; Infinity if it never will, or has. */
export function delayWakesAt(moment: Delay, line: Timeline, t: number): number {
  const left = msOf(moment) - clockAt(moment, line, t);
  if (left <= 0) return Infinity;
  if (moment.counting !== 'engaged') return t + left;
  return line.visible && t + left <= line.lastInput + ENGAGED_MS ? t + left : Infinity;
}

export function delayWords({ seconds, of, counting }: Delay): string {
  const verb = counting === 'engaged' ? 'are engaged for' : 'stay for';
  return `${verb} ${seconds} s ${of === 'visit' ? 'in the visit' : 'on the page'}`;
}

export const delayRuntime: MomentRuntime<Delay> = { holds: delayHolds, wakesAt: delayWakesAt };

export const delayKind: MomentKind<Delay> = {
  kind: 'delay',
  schema: delaySchema,
  runtime: delayRuntime,
  words: delayWords,
  found: (moment, line, t) => `${(clockAt(moment, line, t) / 1000).toFixed(1)} s`,
  isInstant: false,
  watches: undefined,
  implies: (first, second) => {
    // Engaged time never runs ahead of open time, nor a page's clock ahead of its visit's.
    const isNarrower = (first.of ?? 'page') === (second.of ?? 'page') || (first.of ?? 'page') === 'page';
    const isSlower = (first.counting ?? 'open') === (second.counting ?? 'open') || second.counting !== 'engaged';
    return first.seconds >= second.seconds && isNarrower && isSlower;
  },
  isAlways: ({ seconds }) => seconds === 0,
  editor: {
    label: 'After some time',
    make: () => ({ kind: 'delay', seconds: 20 }),
    rows: [
      [
        { field: 'words', text: 'after' },
        { field: 'number', key: 'seconds', label: 'Seconds', least: 0, most: 86_400, unit: 'seconds' },
        {
          field: 'choice',
          key: 'of',
          label: 'Of',
          otherwise: 'page',
          options: [
            ['page', 'on the page'],
            ['visit', 'in the visit'],
          ],
        },
        {
          field: 'choice',
          key: 'counting',
          label: 'Counting',
          otherwise: 'open',
          options: [
            ['open', 'all time'],
            ['engaged', 'engaged time'],
          ],
        },
      ],
    ],
  },
  typed: (said) => {
    if (typeof said.window === 'number') return [];
    const heard = spoken(said, { also: ALSO, amounts: ['s'], window: true });
    const seconds = thresholdOf(heard?.amounts[0]);
    if (!heard || seconds === undefined || seconds < 0 || seconds > 86_400) return [];
    const isEngaged = said.words.some((word) => ENGAGED.includes(word));
    const isVisit =
      said.window === 'visit' || said.words.includes('visit') || said.words.includes('session') || said.words.includes('site');
    const isNamed = said.words.some((word) => NAMED.includes(word)) || isEngaged;
    if (!isNamed && seconds === 0) return [];
    const leaf = (counting?: 'engaged'): Delay => ({
      kind: 'delay',
      seconds,
      ...(isVisit ? { of: 'visit' } : {}),
      ...(counting ? { counting } : {}),
    });
    if (isEngaged) return [{ leaf: leaf('engaged'), sureness: 3 }];
    return [{ leaf: leaf(), sureness: isNamed ? 3 : 2 }, ...(isNamed ? [] : [{ leaf: leaf('engaged'), sureness: 1.8 }])];
  },
  example: (fc) =>
    shape(fc, {
      kind: fc.constant('delay' as const),
      seconds: fc.constantFrom(0, 5, 20, 40),
      of: maybe(fc, fc.constantFrom('page' as const, 'visit' as const)),
      counting: maybe(fc, fc.constantFrom('open' as const, 'engaged' as const)),
    }),
};

const ENGAGED = ['engaged', 'active', 'engagement', 'actively', 'attention', 'attentive'];
const NAMED = [
  'after',
  'stay',
  'stays',
  'stayed',
  'wait',
  'waits',
  'waiting',
  'delay',
  'later',
  'spent',
  'spend',
  'spends',
  'dwell',
  'been',
];
const ALSO = [...ENGAGED, ...NAMED, 'page', 'visit', 'session', 'site', 'time', 'here', 'long', 'then', 'opening', 'load', 'arrival', 'of'];
