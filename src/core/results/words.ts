// What results say in words. Pure: nothing is called better or worse but what is clear.
import type { Goal } from '../campaigns/campaign';
import type { Against } from './compare';
import type { Report, ResultRow } from './report';
import { NOTHING, SHOWN } from './report';

const MINUS = '−';

/** "4.1 %", "0.35 %": as many places as tell something. */
export function percent(rate: number): string {
  const hundred = rate * 100;
  return `${hundred.toFixed(hundred !== 0 && Math.abs(hundred) < 1 ? 2 : 1)} %`;
}

/** "+1.7", "−0.3": points of a hundred, with their sign. */
export function points(difference: number): string {
  const value = difference * 100;
  const text = Math.abs(value).toFixed(Math.abs(value) < 1 && value !== 0 ? 2 : 1);
  return Number(text) === 0 ? '0' : `${value < 0 ? MINUS : '+'}${text}`;
}

export const count = (number: number): string => number.toLocaleString('en-GB');

/** Longer than this nobody plans. */
const MOST_DAYS = 3653;

/** "3 days", "1 day", "more than ten years". */
export const daysInWords = (days: number): string =>
  days > MOST_DAYS ? 'more than ten years' : `${count(days)} ${days === 1 ? 'day' : 'days'}`;

/** What somebody who succeeds does, after "of those …". */
export function successWords(goal: Goal): string {
  switch (goal.kind) {
    case 'form':
      return 'send the form';
    case 'reply':
      return 'reply';
    case 'page':
      return 'reach its page';
    case 'event':
      return `do “${goal.event}”`;
  }
}

export const valueName = (value: string): string => (value === NOTHING ? 'control group' : value === SHOWN ? 'shown it' : value);

/** What a row stands for: a value, or a variant within it. */
export const rowName = ({ value, variant }: ResultRow): string =>
  variant === undefined ? valueName(value) : `${valueName(value)}: ${variant}`;

/** Why nothing is compared. */
export const nothingComparedWords = (isOwnGoal: boolean): string => (isOwnGoal ? 'only variants can be compared' : 'no control group');

/** Under this chance shares are not what was meant to be dealt. */
const ODD_SHARES = 0.001;
/** Something keeps one group from being met or recorded: a warning stands over all numbers. */
export const hasOddShares = ({ shares: { chance } }: Pick<Report, 'shares'>): boolean => chance !== null && chance < ODD_SHARES;

/** How far an axis of differences goes, so that everything that is drawn is in sight. */
export const reachOf = (all: readonly Against[]): number =>
  Math.max(0.02, ...all.filter((one) => !isTooWide(one)).flatMap(({ span }) => span.map(Math.abs)));

/** Nothing else is called clear, better or worse: what holds for one look only is never. */
export const isClear = ({ looks, span: [low, high] }: Against): boolean => looks === 'always' && (low > 0 || high < 0);

/** Wider than this a span says nothing, and is neither told nor drawn. */
export const isTooWide = ({ span: [low, high] }: Against): boolean => high - low > 1;

export interface Sentence {
  readonly before: string;
  /** What is known, and how surely. */
  readonly difference: string;
  readonly isClear: boolean;
  readonly after: string;
}

/** The answer as a sentence, from the rows of the variants: of several compared the one that differs most surely. */
export function answerWords(rows: readonly ResultRow[], goal: Goal): Sentence {
  const met = rows.reduce((sum, row) => sum + row.met, 0);
  const does = successWords(goal);
  const compared = rows.filter((row): row is ResultRow & { against: Against } => row.against !== null);
  const [base] = rows;
  if (met === 0 || !base) return { before: 'Nobody has met it in this period.', difference: '', isClear: false, after: '' };
  const rateOf = ({ rate }: ResultRow): string => (rate === null ? '–' : percent(rate));
  if (compared.length === 0)
    return {
      before: `Of ${count(met)} who met it, ${rateOf(rows.length === 1 ? base : (rows.at(-1) ?? base))} ${does}.`,
      difference: '',
      isClear: false,
      after: '',
    };
  // The one whose span is farthest from nothing; where none is clear, the one with the narrowest.
  const width = ({ against: { span } }: (typeof compared)[number]): number => span[1] - span[0];
  const [told] = [...compared].sort((a, b) => Number(isClear(b.against)) - Number(isClear(a.against)) || width(a) - width(b));
  if (!told) return { before: '', difference: '', isClear: false, after: '' };
  const { against } = told;
  const other = rows.find(({ value }) => value === against.value);
  const of = (value: string): string =>
    value === NOTHING ? 'the control group' : value === SHOWN ? 'those who are shown it' : `those who are shown “${value}”`;
  const clear = isClear(against);
  return {
    before: `Of ${of(against.value)}, ${other ? rateOf(other) : '–'} ${does}. Of ${of(told.value)}, ${rateOf(told)}:`,
    difference: differenceSentence(against),
    isClear: clear,
    after: '.',
  };
}

function differenceSentence(against: Against): string {
  const [low, high] = against.span;
  if (isTooWide(against)) return 'too few yet to say more';
  if (against.looks === 'once')
    return `${points(against.difference)} points, for one look somewhere between ${points(low)} and ${points(high)}`;
  return isClear(against)
    ? `${points(Math.abs(against.difference)).replace('+', '')} points ${against.difference > 0 ? 'more' : 'fewer'}, somewhere between ${points(low)} and ${points(high)}`
    : `no difference is clear yet; it lies somewhere between ${points(low)} and ${points(high)} points`;
}

const CLOSED_BY: Readonly<Record<Report['dismissals'][number]['how'], string>> = {
  button: 'by its close button',
  dim: 'by a press beside it',
  escape: 'with Escape',
  answer: 'by an answer that only closes',
  unknown: 'in a way that was not recorded',
};

/** "312 closed it: 200 by its close button, 112 with Escape." */
export function closedWords(dismissed: number, dismissals: Report['dismissals']): string {
  if (dismissed === 0) return 'Nobody closed it.';
  return `${count(dismissed)} closed it: ${dismissals.map(({ how, visitors }) => `${count(visitors)} ${CLOSED_BY[how]}`).join(', ')}.`;
}
