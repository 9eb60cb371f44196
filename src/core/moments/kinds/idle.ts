import { z } from 'zod';
import type { Timeline } from '../timeline';
import { msOf } from '../timeline';
import type { MomentKind, MomentRuntime } from '../kind';
import { spoken, thresholdOf } from '../../typing/spoken';

export const idleSchema = () => z.strictObject({ kind: z.literal('idle'), seconds: z.number().gt(0).max(86_400) });
export type Idle = z.infer<ReturnType<typeof idleSchema>>;

/** At the instant of a signal, as it stood just before that signal. */
export function idleHolds(moment: Idle, line: Timeline, t: number): boolean {
  const since = line.signal ? line.idleSince : line.visible ? line.lastInput : undefined;
  return since !== undefined && t - since >= msOf(moment);
}

export function idleWakesAt(moment: Idle, line: Timeline, t: number): number {
  const at = line.lastInput + msOf(moment);
  return line.visible && at > t ? at : Infinity;
}

export const idleWords = ({ seconds }: Idle): string => `do nothing for ${seconds} s`;

export const idleRuntime: MomentRuntime<Idle> = { holds: idleHolds, wakesAt: idleWakesAt };

export const idleKind: MomentKind<Idle> = {
  kind: 'idle',
  schema: idleSchema,
  runtime: idleRuntime,
  words: idleWords,
  found: (_moment, line, t) => (line.visible ? `${((t - line.lastInput) / 1000).toFixed(1)} s without input` : 'the tab is hidden'),
  isInstant: true,
  watches: undefined,
  implies: (first, second) => first.seconds >= second.seconds,
  isAlways: () => false,
  editor: {
    label: 'Does nothing for',
    make: () => ({ kind: 'idle', seconds: 30 }),
    rows: [
      [
        { field: 'words', text: 'does nothing for' },
        { field: 'number', key: 'seconds', label: 'Seconds', least: 1, most: 86_400, unit: 'seconds' },
      ],
    ],
  },
  typed: (said) => {
    // "without doing anything", "no activity": the "no" is part of it.
    const words = said.isNegated ? ['no', ...said.words] : said.words;
    const heard = spoken({ ...said, words }, { says: SAYS, also: ALSO, amounts: ['s', 'none'] });
    if (heard) {
      const [amount] = heard.amounts;
      const seconds = amount ? thresholdOf(amount) : 30;
      if (seconds === undefined || !(seconds > 0) || seconds > 86_400) return [];
      return [{ leaf: { kind: 'idle', seconds }, sureness: 3, ...(heard.key.startsWith('no ') ? { includesNot: true as const } : {}) }];
    }
    const plain = spoken(said, { amounts: ['s'] });
    const seconds = thresholdOf(plain?.amounts[0]);
    return plain && seconds && seconds <= 86_400 ? [{ leaf: { kind: 'idle', seconds }, sureness: 1.9 }] : [];
  },
  example: (fc) => fc.record({ kind: fc.constant('idle' as const), seconds: fc.constantFrom(5, 20) }),
};

const SAYS = [
  'idle',
  'inactive',
  'inactivity',
  'nothing',
  'do nothing',
  'does nothing',
  'doing nothing',
  'no activity',
  'no action',
  'no input',
  'no movement',
  'no interaction',
  'no doing anything',
  'no mouse',
  'pause',
  'pauses',
  'paused',
  'idles',
  'still',
  'idling',
  'rests',
  'stops moving',
];
const ALSO = ['do', 'does', 'doing', 'after', 'time', 'page', 'then', 'keyboard', 'or', 'input', 'activity', 'anything'];
