// What somebody typed, taken apart: amounts with their units, windows of time, pages, selectors, hours, dates and words. It
// knows no kind of condition; those pick from it what they understand, and whatever nobody understands is offered nothing.
import { DESCRIBED_PATTERN, MAY_BE_PATTERN, partTyped, patternTyped } from './pageTyped';
import type { PagePattern } from '../pages/pattern';

export type Unit = 's' | 'd' | '%' | 'times' | 'visits' | 'pages' | 'clicks' | 'points' | 'degrees' | 'showings' | 'dismissals';

/** A number as it was said: "20 s", "at least 2 times", "2 to 5", "over 10". Seconds for `s`, days for `d`. */
export interface Amount {
  readonly min?: number;
  readonly max?: number;
  /** Nothing was said of at least or at most. */
  readonly isBare: boolean;
  /** "more than", "over": the bound itself is not meant. */
  readonly isOver: boolean;
  readonly isUnder: boolean;
  readonly unit?: Unit;
}

export interface Assignment {
  readonly key: string;
  readonly op: '=' | '!=' | '>' | '<' | '>=' | '<=';
  readonly value: string;
}

export interface Said {
  /** All of it in small letters, one blank between words, without what stands before it ("not", "or"). */
  readonly text: string;
  /** The same as it was written. */
  readonly raw: string;
  readonly isNegated: boolean;
  /** "never" rather than "not". */
  readonly isNever: boolean;
  readonly joins: 'and' | 'or';
  readonly amounts: readonly Amount[];
  /** Days, or the visit under way. */
  readonly window: number | 'visit' | undefined;
  readonly pages: readonly PagePattern[];
  readonly selectors: readonly string[];
  readonly quoted: readonly string[];
  readonly assignments: readonly Assignment[];
  readonly hours: readonly [string, string] | undefined;
  readonly dates: readonly string[];
  /** What is left, in small letters. */
  readonly words: readonly string[];
}

const NUMBER_WORDS = 'one two three four five six seven eight nine ten eleven twelve'.split(' ');
const NUMBER = `(?:\\d+(?:[.,]\\d+)?|${NUMBER_WORDS.join('|')})`;
const UNITS: readonly (readonly [Unit, RegExp, number])[] = [
  ['s', /^(?:s|secs?|seconds?)$/, 1],
  ['s', /^(?:m|mins?|minutes?)$/, 60],
  ['s', /^(?:h|hrs?|hours?)$/, 3600],
  ['d', /^(?:d|days?)$/, 1],
  ['d', /^(?:w|weeks?)$/, 7],
  ['d', /^months?$/, 30],
  ['d', /^years?$/, 365],
  ['%', /^(?:%|percent|per cent)$/, 1],
  ['times', /^(?:times?|x)$/, 1],
  ['visits', /^(?:visits?|sessions?)$/, 1],
  ['pages', /^(?:pages?|page ?views?|views?)$/, 1],
  ['clicks', /^clicks?$/, 1],
  ['points', /^(?:points?|pts?)$/, 1],
  ['degrees', /^(?:°c?|degrees?(?: celsius)?|celsius)$/, 1],
  ['showings', /^(?:showings?|displays?)$/, 1],
  ['dismissals', /^dismissals?$/, 1],
];
const UNIT = `(?:%|percent|per cent|°c?|degrees?(?: celsius)?|celsius|secs?|seconds?|s|mins?|minutes?|m|hrs?|hours?|h|days?|d|weeks?|w|months?|years?|times?|x|visits?|sessions?|page ?views?|pages?|views?|clicks?|points?|pts?|showings?|displays?|dismissals?)`;
const LEAST = ['at least', 'no less than', 'not less than', 'minimum of', 'minimum', 'min', 'from', '>=', '≥'];
const OVER = ['more than', 'over', 'above', 'greater than', 'longer than', 'deeper than', 'warmer than', 'hotter than', '>'];
const MOST = ['at most', 'no more than', 'not more than', 'maximum of', 'maximum', 'max', 'up to', '<=', '≤'];
const UNDER = ['less than', 'fewer than', 'under', 'below', 'colder than', 'shorter than', '<'];
const EXACT = ['exactly', 'precisely', 'just', '='];
const escaped = (text: string): string => text.replace(/[<>=]/g, '\\$&');
const COMPARED = [LEAST, OVER, MOST, UNDER, EXACT].flat().map(escaped).join('|');
const MINUS = '(?:-|−|minus )';
const AMOUNT = new RegExp(
  `(?<![\\w./#-])(?:(${COMPARED})\\s*)?(${MINUS}?${NUMBER})(?:\\s*(\\+|or more|or less))?(?:\\s*(?:-|–|to|and)\\s*(${MINUS}?${NUMBER}))?(?:\\s*(${UNIT}))?(?:\\s*(or more|or less|at least|at most|max|min)(?!\\s*\\d))?(?![\\w/-])`,
  'gi',
);
const ADVERBS = /\b(once|twice|thrice)\b/gi;

const WINDOW = new RegExp(
  `\\b(?:(?:with)?in|over|during|for)?\\s*(?:the\\s+)?(?:last|past|previous)\\s+(?:(${NUMBER})\\s*)?(d|days?|weeks?|months?|years?)\\b|\\bwithin\\s+(?:the\\s+)?(${NUMBER})\\s*(d|days?|weeks?|months?|years?)\\b`,
  'i',
);
const VISIT_WINDOW =
  /\b(?:(?:with)?in|during)\s+(?:this|the|their|the current|the same)\s+(?:visit|session)\b|\bthis\s+(?:visit|session)\b/i;
const CLOCK = '(\\d{1,2})(?:[:.](\\d\\d))?\\s*(am|pm|h|o.clock)?';
const HOURS = new RegExp(`(?<![\\w./-])(?:between\\s+|from\\s+)?${CLOCK}\\s*(?:-|–|to|until|till|and)\\s*${CLOCK}(?![\\w/%-])`, 'i');
const ONE_HOUR = /\b(after|before|from|until|till|since)\s+(\d{1,2})(?:[:.](\d\d))?\s*(am|pm|h|o.clock)?(?![\w%-])/i;
const DATE = /\b\d{4}-\d\d-\d\d(?:T\d\d:\d\d(?::\d\d)?(?:Z|[+-]\d\d:?\d\d)?)?\b/g;
const NEGATION =
  /(?:^|\b)(?:but not|not|no|never|without|except(?: for| on)?|excluding|exclude|isn.?t|aren.?t|wasn.?t|weren.?t|don.?t|doesn.?t|didn.?t|haven.?t|hasn.?t|non|other than|all but|any but|everyone but|unless|nobody(?: who)?|are not among those who|do not)(?=\s|-|$)[\s-]*/i;

/** Takes a phrase apart. Works on any text; nothing it does not understand is lost, it stays among the words. */
export function said(typed: string): Said {
  const whole = typed.normalize('NFC').replace(/\s+/g, ' ').trim().slice(0, 300);
  const joined = /^(or|and|but|,|&|\+)\s+/i.exec(whole);
  const raw = joined ? whole.slice(joined[0].length) : whole;
  let rest = ` ${raw} `;
  const take = (pattern: RegExp): RegExpExecArray | undefined => {
    const found = pattern.exec(rest);
    if (!found) return undefined;
    rest = `${rest.slice(0, found.index)} ${rest.slice(found.index + found[0].length)}`;
    return found;
  };
  const takeAll = (pattern: RegExp): RegExpExecArray[] => {
    const found = [...rest.matchAll(pattern)];
    rest = rest.replace(pattern, ' ');
    return found;
  };
  const described = takeAll(DESCRIBED_PATTERN).flatMap((one) => partTyped(one[0].trim()) ?? []);
  const quoted = takeAll(/"([^"]*)"|“([^”]*)”|«([^»]*)»/g).map((one) => one[1] ?? one[2] ?? one[3] ?? '');
  const pages = [...described, ...takeAll(MAY_BE_PATTERN).flatMap((one) => patternTyped(one[0].trim()) ?? [])];
  const assignments = takeAll(/(?<=\s)[?&]?([\w.-]+)\s?(!=|>=|<=|=|>|<)\s?([^\s=<>]+)(?=\s)/g).map(
    ([, key = '', op = '=', value = '']): Assignment => ({ key, op: op as Assignment['op'], value }),
  );
  const selectors = takeAll(/(?<=\s)(?:[a-z][\w-]*)?(?:[.#][a-z_-][\w-]*|\[[^\]]+\])+(?:\s?>\s?[.#]?[a-z][\w-]*)*(?=[\s,;]|$)/gi)
    .map(([one]) => one.trim())
    .filter((one) => !/^[a-z0-9-]+(\.[a-z]{2,})+$/i.test(one) || /^[.#[]/.test(one) || keepAsWord(one));
  const inVisit = take(VISIT_WINDOW) !== undefined;
  const dated = take(WINDOW);
  const window = inVisit ? 'visit' : dated ? numberOf(dated[1] ?? dated[3] ?? '1') * unitOf(dated[2] ?? dated[4] ?? 'day')[1] : undefined;
  const dates = takeAll(DATE).map(([one]) => one);
  const hours = takeHours(take);
  const negation = take(NEGATION);
  const adverbs = takeAll(ADVERBS).map(([word]): Amount => {
    const times = ['once', 'twice', 'thrice'].indexOf(word.toLowerCase()) + 1;
    return { min: times, max: times, isBare: false, isOver: false, isUnder: false, unit: 'times' };
  });
  const amounts = [...adverbs, ...takeAll(AMOUNT).map(amountOf)];
  const words = rest
    .toLowerCase()
    .split(/[\s,;:!]+/)
    .filter((word) => word !== '' && word !== '.');
  return {
    text: (negation ? raw.replace(negation[0].trim(), ' ') : raw).toLowerCase().replace(/\s+/g, ' ').trim(),
    raw,
    isNegated: negation !== undefined,
    isNever: /never/i.test(negation?.[0] ?? ''),
    joins: joined?.[1]?.toLowerCase() === 'or' ? 'or' : 'and',
    amounts,
    window,
    pages,
    selectors,
    quoted,
    assignments,
    hours,
    dates,
    words,
  };
}

/** "button.primary" is a selector, "example.com" a host. */
const keepAsWord = (one: string): boolean =>
  /^(?:a|button|div|form|h[1-6]|img|input|li|nav|p|section|span|ul|main|footer|header)\./i.test(one);

export function numberOf(text: string): number {
  const minus = new RegExp(`^${MINUS}`, 'i').test(text);
  const plain = text.replace(new RegExp(`^${MINUS}`, 'i'), '').toLowerCase();
  const word = NUMBER_WORDS.indexOf(plain);
  const value = word >= 0 ? word + 1 : Number(plain.replace(',', '.'));
  return minus ? -value : value;
}

function unitOf(text: string): readonly [Unit, number] {
  const [unit, , factor] = UNITS.find(([, pattern]) => pattern.test(text.toLowerCase())) ?? ['times', /./, 1];
  return [unit, factor];
}

function amountOf([, before = '', first = '', plus, second, unitText, after = '']: RegExpExecArray): Amount {
  const compared = before.toLowerCase();
  const [unit, factor] = unitText === undefined ? [undefined, 1] : unitOf(unitText);
  const value = numberOf(first) * factor;
  const tail = `${plus ?? ''} ${after}`.toLowerCase();
  const isOver = OVER.includes(compared);
  const isUnder = UNDER.includes(compared);
  const base = { isOver, isUnder, ...(unit === undefined ? {} : { unit }) };
  if (second !== undefined) {
    const other = numberOf(second) * factor;
    return { ...base, isBare: false, min: Math.min(value, other), max: Math.max(value, other) };
  }
  if (LEAST.includes(compared) || isOver || /\+|or more|at least|min/.test(tail)) return { ...base, isBare: false, min: value };
  if (MOST.includes(compared) || isUnder || /or less|at most|max/.test(tail)) return { ...base, isBare: false, max: value };
  if (EXACT.includes(compared)) return { ...base, isBare: false, min: value, max: value };
  return { ...base, isBare: true, min: value };
}

type Take = (pattern: RegExp) => RegExpExecArray | undefined;

/** "9-17", "9:00 to 17:30", "9am-5pm", "after 18:00". Two plain numbers are hours only with a dash and nothing behind them. */
function takeHours(take: Take): readonly [string, string] | undefined {
  let isTime = false;
  const found = take({
    exec: (text: string) => {
      const match = HOURS.exec(text);
      if (!match) return null;
      const [all, h1, m1, p1, h2, m2, p2] = match;
      isTime = m1 !== undefined || m2 !== undefined || p1 !== undefined || p2 !== undefined;
      const isPlain = new RegExp(`^\\s*(?:between\\s+|from\\s+)?\\d{1,2}\\s?[-–]\\s?\\d{1,2}$`, 'i').test(all.trim());
      const behind = text.slice(match.index + all.length).trim();
      const isFree = isPlain && !new RegExp(`^${UNIT}(?:\\s|$)`, 'i').test(behind) && Number(h1) !== Number(h2);
      return (isTime || isFree) && Number(h1) <= 24 && Number(h2) <= 24 ? match : null;
    },
  } as RegExp);
  if (found) {
    const [, h1 = '', m1, p1, h2 = '', m2, p2] = found;
    return [clock(h1, m1, p1), clock(h2, m2, p2)];
  }
  const one = take({
    exec: (text: string) => {
      const match = ONE_HOUR.exec(text);
      return match && (match[3] !== undefined || match[4] !== undefined) && Number(match[2]) <= 24 ? match : null;
    },
  } as RegExp);
  if (!one) return undefined;
  const at = clock(one[2] ?? '', one[3], one[4]);
  return /after|from|since/i.test(one[1] ?? '') ? [at, '00:00'] : ['00:00', at];
}

function clock(hours: string, minutes = '00', part?: string): string {
  const plain = Number(hours) % 24;
  const isPm = part?.toLowerCase() === 'pm';
  const full = isPm && plain < 12 ? plain + 12 : part?.toLowerCase() === 'am' && plain === 12 ? 0 : plain;
  return `${String(full).padStart(2, '0')}:${minutes}`;
}
