import { numberOf } from '../typing/said';
import type { Pacing } from './pacing';

const N = '(\\d+(?:[.,]\\d+)?|one|two|three|four|five|six|seven|eight|nine|ten)';
const PERIOD = '(days?|d|weeks?|w|months?|years?)';
const daysIn = (count: string | undefined, period: string): number => {
  const unit = /^w/.test(period) ? 7 : /^m/.test(period) ? 30 : /^y/.test(period) ? 365 : 1;
  return (count === undefined ? 1 : numberOf(count)) * unit;
};
const days = (value: number): Pacing | undefined => (value > 0 && value <= 540 ? { again: { days: value } } : undefined);
const count = (text: string | undefined): number => ({ once: 1, twice: 2, thrice: 3 })[text ?? ''] ?? numberOf(text ?? '1');
const whole = (value: number): number | undefined => (Number.isInteger(value) && value >= 1 ? value : undefined);

interface Phrasing {
  readonly pattern: RegExp;
  readonly means: (found: RegExpExecArray) => Pacing | undefined;
  readonly sureness?: number;
}

const again = (value: NonNullable<Pacing['again']>) => (): Pacing => ({ again: value });
const EACH_TIME = '(?:every time|each time|any time|whenever|as often as)';
const VISIT = '(?:visits?|sessions?)';
const WHO = '(?:visitors?|persons?|people|users?|browsers?|customers?)';

/** How often, in the words that people use. The whole text has to be one of these. */
const PHRASINGS: readonly Phrasing[] = [
  {
    pattern: new RegExp(
      `^(?:each time they ask|${EACH_TIME} (?:they |the visitor |it is |it's )?(?:asks?|clicks?|asked|clicked|press(?:es)?|happens|wants?).*|at (?:each|every) click|on (?:each|every) click)$`,
    ),
    means: again('each'),
  },
  {
    pattern: new RegExp(
      `^(?:always|on every page view|(?:on |at )?(?:every|each) page(?: ?view| load)?|${EACH_TIME}(?: they (?:see|open|view) (?:a|the) page)?|all the time|unlimited|no limit|without limit|as often as possible|again and again|once (?:a|per|each|every) page(?: ?view)?)$`,
    ),
    means: again('always'),
    sureness: 3,
  },
  {
    pattern: new RegExp(
      `^(?:at most |not more than |no more than |only |just |max )?(?:once|one time|1 time|1x|1) (?:a|per|each|every|in a) ${VISIT}$|^(?:per|each|every) ${VISIT}$|^(?:once|one) in (?:a|each|every|the) ${VISIT}$`,
    ),
    means: again('visit'),
  },
  {
    pattern: new RegExp(
      `^(?:only |just |at most |not more than |exactly )?(?:once|one time|1 time|1x)(?: ever| only| in (?:a|their) lifetime| for ever| for good| (?:a|per|each|for each|for every|in the life of a) ${WHO})?$|^(?:never|not) again$|^(?:never|not) (?:show )?(?:it |this )?(?:again|twice|a second time)$|^no repeats?$|^first time only$`,
    ),
    means: again('never'),
  },
  {
    pattern: new RegExp(
      `^(?:not again (?:for|within|in)|(?:again )?(?:only )?(?:every|after|each)|once (?:every|in|per)|at most once (?:every|in|per)|not more than once (?:every|in|per)|pause(?: of)?|wait|again after|not for|cap of|show again after)?\\s*(?:at least )?${N} ?${PERIOD}(?: pause| between| apart| break| later)?$`,
    ),
    means: ([, n, period]) => days(daysIn(n, period ?? 'd')),
    sureness: 2.4,
  },
  {
    pattern: new RegExp(
      `^(?:not again (?:for|within)|(?:at most |not more than |no more than |only |just |max )?once|1x|one time)?\\s*(?:a|an|per|each|every) (day|week|month|year)$`,
    ),
    means: ([, period]) => days(daysIn(undefined, period ?? 'd')),
  },
  {
    pattern: /^(?:at most )?(daily|weekly|monthly|yearly)$/,
    means: ([, word]) => days({ daily: 1, weekly: 7, monthly: 30, yearly: 365 }[word ?? ''] ?? 1),
  },
  {
    pattern: new RegExp(
      `^(?:until|stop (?:after|when|once)|end after|no more after)(?: it (?:is|was))? (?:dismissed|closed)(?: ${N}? ?(?:times?|x)?| (once|twice|thrice))?$|^(?:until|stop after|end after|no more after) ${N} (?:dismissals?|closings?)$|^(?:until|stop after) (?:they )?(?:dismiss|close|dismissing|closing) (?:it|this)?(?: ?(once|twice|thrice))?$`,
    ),
    means: ([, a, b, c, d]) => {
      const times = whole(count(a ?? b ?? c ?? d ?? 'one'));
      return times === undefined ? undefined : { stop: { dismissed: times } };
    },
  },
  {
    pattern: new RegExp(
      `^(?:until|stop after|end after|no more after) ${N} (?:showings?|displays?|times?|views?|impressions?)$|^(?:at most|not more than|no more than|max(?:imum)?(?: of)?|up to|only) ${N} ?(?:times?|x|showings?|displays?)(?: (?:ever|in all|altogether|in total|per ${WHO}))?$|^${N} (?:times?|showings?) (?:at most|max(?:imum)?|in all|altogether)$`,
    ),
    means: ([, a, b, c]) => {
      const times = whole(count(a ?? b ?? c));
      return times === undefined ? undefined : { stop: { shown: times } };
    },
    sureness: 2.8,
  },
  {
    pattern:
      /^(?:even after (?:a )?conversions?|also after (?:a )?conversions?|even (?:if|when) (?:they have )?converted|also (?:to|for) those who converted|don.?t stop after conversion)$/,
    means: () => ({ stop: { converted: false } }),
  },
  {
    pattern:
      /^(?:until (?:they )?(?:convert|converted|a conversion)|stop (?:after|at|on) (?:a |the )?conversion|not after (?:a )?conversion|stop when converted)$/,
    means: () => ({ stop: { converted: true } }),
  },
  {
    pattern:
      /^(?:alone|only if nothing else has shown(?: in the visit)?|only if (?:no|nothing) other(?: campaign| message)?(?: has)?(?: shown| was shown)?|if nothing else (?:has )?(?:shown|showed|was shown)|only alone|not with others|nothing else(?: before)?|by itself|exclusive(?:ly)?|solo)$/,
    means: () => ({ alone: true }),
  },
];

/** The pacing that was said, and how sure that is. */
export function pacingTyped(typed: string): { pacing: Pacing; sureness: number }[] {
  const text = typed
    .toLowerCase()
    .replace(/\s+/g, ' ')
    .replace(/^(?:and|but|show|shows|show it|shown|display|,)\s+/, '')
    .replace(/[.!]$/, '')
    .trim();
  for (const { pattern, means, sureness = 3 } of PHRASINGS) {
    const found = pattern.exec(text);
    const pacing = found && means(found);
    if (pacing) return [{ pacing, sureness }];
  }
  return [];
}
