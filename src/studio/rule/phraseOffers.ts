// What typing into the sentence offers: conditions of all four families, from what the site has recorded. Pure.
import { CHANNELS, DEVICE_CATEGORIES } from '@/core/history/visitor';
import type { Moment } from '@/core/moments/moment';
import { momentWords } from '@/core/moments/moment';
import type { Pacing } from '@/core/pacing/pacing';
import { pacingWords } from '@/core/pacing/pacing';
import type { PagePattern } from '@/core/pages/pattern';
import { patternWords } from '@/core/pages/pattern';
import type { PeopleCondition } from '@/core/people/condition';
import { conditionWords } from '@/core/people/condition';
import type { Family } from '@/core/rules/describe';
import type { Expr } from '@/core/rules/expr';
import type { Rule } from '@/core/rules/schema';
import type { WordsFor } from '@/core/rules/words';
import { sectionOf } from '../ribbon/layout';
import type { Recorded } from './recorded';

export interface PhraseOffer {
  readonly id: string;
  readonly family: Family;
  readonly words: string;
  readonly note: string;
  /** The rule with this in it. */
  readonly addTo: (rule: Rule) => Rule;
}

const MOST = 10;

/** Phrases that fit what is typed: each word of it has to occur; what begins with it comes first. */
export function phraseOffers(typed: string, recorded: Recorded, names: WordsFor): PhraseOffer[] {
  const text = typed.trim().toLowerCase();
  if (text === '') return [];
  return fitting(text, [...numbersIn(text), ...typedPage(typed.trim(), recorded, names), ...recordedOffers(recorded, names), ...FIXED]);
}

function fitting(text: string, found: readonly Found[]): PhraseOffer[] {
  const words = text.split(/\s+/);
  const fit = found.filter(({ isSure, search }) => isSure || words.every((word) => search.toLowerCase().includes(word)));
  const starts = ({ isSure, search, offer }: Found): number =>
    isSure ? 0 : search.toLowerCase().startsWith(text) || offer.words.toLowerCase().startsWith(text) ? 1 : 2;
  const once = new Map(fit.sort((a, b) => starts(a) - starts(b)).map(({ offer }) => [offer.id, offer] as const));
  return [...once.values()].slice(0, MOST);
}

/** The same for people alone: pages become pages that were viewed. `self` is the segment under way, which cannot ask for itself. */
export function peopleOffers(typed: string, recorded: Recorded, names: WordsFor, self: string): PhraseOffer[] {
  const text = typed.trim();
  if (text === '') return [];
  const viewed = (pattern: PagePattern, note: string): Found =>
    people({ kind: 'viewed', pages: [pattern], times: { min: 1 } }, names, { note, search: 'page' });
  const found = [
    ...numbersIn(text.toLowerCase()),
    ...typedPage(text, recorded, names),
    ...recorded.sets.map(({ id, name }) => viewed({ set: id }, `page set ${name}`)),
    ...recordedOffers({ ...recorded, segments: recorded.segments.filter(({ id }) => id !== self) }, names),
    ...recorded.pages.map(({ path, views }) => viewed({ op: 'is', value: path }, `${views.toLocaleString('en-GB')} views`)),
    ...FIXED,
  ];
  return fitting(
    text.toLowerCase(),
    found.filter(({ offer }) => offer.family === 'people'),
  );
}

interface Found {
  readonly offer: PhraseOffer;
  /** What the typed words are looked for in. */
  readonly search: string;
  /** Made from what was typed, so that it fits. */
  readonly isSure?: boolean;
}

const together = <T extends object>(expr: Expr<T> | undefined, leaf: T): Expr<T> => {
  if (expr === undefined) return leaf;
  return 'all' in expr ? { all: [...expr.all, leaf] } : { all: [expr, leaf] };
};

const people = (condition: PeopleCondition, names: WordsFor, { search = '', note = '' } = {}): Found => {
  const words = conditionWords(condition, names);
  return {
    offer: {
      id: `people ${JSON.stringify(condition)}`,
      family: 'people',
      words,
      note,
      addTo: (rule) => ({ ...rule, people: together(rule.people, condition) }),
    },
    search: `${search} ${words}`.trim(),
  };
};

const moment = (condition: Moment, search = ''): Found => ({
  offer: {
    id: `moment ${JSON.stringify(condition)}`,
    family: 'moment',
    words: momentWords(condition),
    note: 'when',
    // A rule that shows at the opening waits from now on; the first moment takes its place.
    addTo: (rule) => ({
      ...rule,
      moment:
        rule.moment === undefined || ('kind' in rule.moment && rule.moment.kind === 'open') ? condition : together(rule.moment, condition),
    }),
  },
  search: `${search} ${momentWords(condition)}`,
});

const pacing = (more: Pacing, search = ''): Found => {
  const words = pacingWords(more)[0] ?? '';
  return {
    offer: {
      id: `pacing ${JSON.stringify(more)}`,
      family: 'pacing',
      words,
      note: 'how often',
      addTo: (rule) => ({
        ...rule,
        pacing: { ...rule.pacing, ...more, ...(more.stop ? { stop: { ...rule.pacing?.stop, ...more.stop } } : {}) },
      }),
    },
    search: `${search} ${words}`,
  };
};

const page = (
  pattern: PagePattern,
  names: WordsFor,
  { field = 'on', note = '' }: { field?: 'on' | 'except'; note?: string } = {},
): Found => {
  const words = `${field} ${patternWords(pattern, names.set)}`;
  return {
    offer: {
      id: `pages ${field} ${JSON.stringify(pattern)}`,
      family: 'pages',
      words,
      note,
      addTo: (rule) => {
        const before = rule.pages?.[field] ?? [];
        // "Any page" is no page beside another.
        const kept = field === 'on' ? before.filter((one) => 'set' in one || one.value !== '/**') : before;
        return { ...rule, pages: { ...rule.pages, [field]: [...kept, pattern] } };
      },
    },
    search: `${words} ${'set' in pattern ? names.set(pattern.set) : pattern.value} page`,
  };
};

function typedPage(typed: string, { pages }: Recorded, names: WordsFor): Found[] {
  const path = /(\/\S*)$/.exec(typed)?.[1];
  if (path === undefined) return [];
  const before = typed.slice(0, -path.length).trim().toLowerCase();
  const value = path.includes('*') || pages.some((one) => one.path === path) ? path : `${path}*`;
  const count = pages.filter((one) => one.path.startsWith(path)).length;
  const note = count === 1 ? '1 page begins so' : `${count} pages begin so`;
  const pattern: PagePattern = { op: 'like', value };
  const all = [
    page(pattern, names, { note }),
    page(pattern, names, { field: 'except', note }),
    people({ kind: 'viewed', pages: [pattern], times: { min: 1 } }, names, { note }),
  ];
  // "except /bo", "viewed /bo": what is typed before says which is meant.
  return all
    .filter(({ offer }) => before === '' || before.split(/\s+/).every((word) => offer.words.toLowerCase().includes(word)))
    .map((one) => ({ ...one, isSure: true }));
}

function numbersIn(text: string): Found[] {
  const match = /^(?:\D*?\s)?(\d{1,4}(?:[.,]\d+)?)\s*(%|s|sec|seconds?|m|min|minutes?|d|days?|times?|visits?)?$/.exec(text);
  if (!match) return [];
  const value = Number((match[1] ?? '').replace(',', '.'));
  const unit = match[2] ?? '';
  if (!(value > 0)) return [];
  const sure = (found: Found): Found => ({ ...found, isSure: true });
  const seconds = unit.startsWith('m') ? value * 60 : value;
  const found: Found[] = [];
  if ((unit === '' || /^[sm]/.test(unit)) && seconds <= 86_400)
    found.push(
      moment({ kind: 'delay', seconds }),
      moment({ kind: 'idle', seconds }),
      moment({ kind: 'delay', seconds, counting: 'engaged' }),
    );
  if ((unit === '' || unit === '%') && value <= 100) found.push(moment({ kind: 'scroll', atLeast: value }));
  if ((unit === '' || unit.startsWith('d')) && value <= 540) found.push(pacing({ again: { days: value } }));
  if ((unit === '' || unit.startsWith('v')) && Number.isInteger(value))
    found.push(people({ kind: 'visits', times: { min: value } }, NO_NAMES));
  return found.map(sure);
}

const NO_NAMES: WordsFor = { segment: (id) => id, set: (id) => id, place: (id) => id, campaign: (id) => id };

const FIXED: readonly Found[] = [
  moment({ kind: 'exit' }, 'exit leave'),
  moment({ kind: 'scrollStart' }, 'scroll'),
  moment({ kind: 'scroll', atLeast: 50 }, 'scroll'),
  moment({ kind: 'idle', seconds: 30 }, 'idle nothing'),
  pacing({ again: 'never' }, 'once'),
  pacing({ again: 'visit' }, 'once a visit'),
  pacing({ again: { days: 7 } }, 'week days again'),
  pacing({ stop: { dismissed: 2 } }, 'dismissed stop'),
  people({ kind: 'known', is: true }, NO_NAMES, { search: 'known' }),
  people({ kind: 'known', is: false }, NO_NAMES, { search: 'unknown not known' }),
  people({ kind: 'visits', times: { min: 2 } }, NO_NAMES, { search: 'returning came back' }),
  people({ kind: 'visits', times: { max: 1 } }, NO_NAMES, { search: 'new first visit' }),
  ...CHANNELS.map((channel) => people({ kind: 'source', channel: [channel] }, NO_NAMES, { search: `${channel} source`, note: 'source' })),
  ...DEVICE_CATEGORIES.map((category) =>
    people({ kind: 'device', category: [category] }, NO_NAMES, { search: `${category} device`, note: 'device' }),
  ),
];

function recordedOffers(recorded: Recorded, names: WordsFor): Found[] {
  const times = (count: number, what: string): string => `${count.toLocaleString('en-GB')} ${what}`;
  const sections = [...new Set(recorded.pages.filter(({ path }) => path !== '/').map(({ path }) => sectionOf(path)))];
  return [
    ...recorded.segments.map(({ id, name }) => people({ kind: 'segment', id }, names, { search: name, note: 'segment' })),
    ...recorded.sets.map(({ id, name }) => page({ set: id }, names, { note: `page set ${name}` })),
    ...sections.map((section) => page({ op: 'like', value: `/${section}/**` }, names, { note: 'all of them' })),
    ...recorded.pages.map(({ path, views }) => page({ op: 'is', value: path }, names, { note: times(views, 'views') })),
    ...recorded.events.flatMap(({ value, times: count }) => [
      people({ kind: 'did', event: value, times: { min: 1 } }, names, { search: value, note: times(count, 'times') }),
      moment({ kind: 'event', name: value }, value),
    ]),
    ...recorded.sources.map(({ value, times: count }) =>
      people({ kind: 'source', utm: { source: { op: 'is', value } } }, names, { search: value, note: times(count, 'visits') }),
    ),
    ...recorded.utmCampaigns.map(({ value, times: count }) =>
      people({ kind: 'source', utm: { campaign: { op: 'is', value } } }, names, { search: value, note: times(count, 'visits') }),
    ),
    ...recorded.cities.map(({ value, times: count }) =>
      people({ kind: 'location', cities: [value] }, names, { search: value, note: times(count, 'visits') }),
    ),
    ...recorded.countries.map(({ value, times: count }) =>
      people({ kind: 'location', countries: [value] }, names, { search: value, note: times(count, 'visits') }),
    ),
    ...recorded.places.map(({ id, name }) => people({ kind: 'location', places: [id] }, names, { search: name, note: 'place' })),
    ...recorded.tags.map(({ value, times: count }) =>
      people({ kind: 'tagged', tag: value }, names, { search: value, note: times(count, 'people') }),
    ),
    ...recorded.campaigns.flatMap(({ id, name }) =>
      (['shown', 'dismissed', 'converted'] as const).map((outcome) =>
        people({ kind: 'response', campaign: id, outcome }, names, { search: name, note: 'campaign' }),
      ),
    ),
  ];
}
