// What the filter line offers for what is typed into it. Pure.
import { CHANNELS, DEVICE_CATEGORIES } from '@/core/history/visitor';
import type { Expr } from '@/core/logic/expr';
import type { WordsFor } from '@/core/pages/names';
import type { PeopleCondition } from '@/core/people/condition';
import { conditionWords } from '@/core/people/condition';
import { exprWords } from '@/core/rules/describe';
import { readTyped } from '@/core/rules/typed';
import { peopleIn } from '@/core/visits/filter';
import type { VisitTerm } from '@/core/visits/filter';
import type { Recorded } from '../rule/recorded';
import { sectionOf } from '../ribbon/layout';

export interface Completion {
  readonly term: VisitTerm;
  readonly words: string;
  readonly note: string;
}

const MOST = 9;
const OUTCOME_WORDS = {
  shown: 'was shown',
  clicked: 'clicked',
  dismissed: 'dismissed',
  converted: 'converted',
  replied: 'replied',
} as const;

/** Terms that fit what is typed, the most frequent first; without anything typed a few of each kind. */
export function completionsFor(typed: string, recorded: Recorded): Completion[] {
  const text = typed.trim().toLowerCase();
  const all = everyCompletion(recorded);
  if (text === '')
    return (['page', 'segment', 'source', 'device', 'place', 'outcome'] as const).flatMap((kind) =>
      all.filter(({ term }) => term.kind === kind).slice(0, 2),
    );
  const said = [...lengthsIn(text), ...(text.startsWith('/') ? [pageAsTyped(typed.trim(), recorded)] : []), ...termsSaid(typed, recorded)];
  const once = said.filter(
    (one, index) => said.findIndex(({ term }) => term.kind === one.term.kind && term.value === one.term.value) === index,
  );
  const words = text.split(/\s+/);
  const found = all.filter(({ term, words: own }) => {
    const inside = `${term.kind} ${own} ${term.value}`.toLowerCase();
    return (
      words.every((word) => inside.includes(word)) && !once.some((one) => one.term.kind === term.kind && one.term.value === term.value)
    );
  });
  // What begins with the text comes before what only contains it.
  const starts = (value: string): number => (value.toLowerCase().startsWith(text) ? 0 : 1);
  return [...once, ...found.sort((a, b) => starts(a.term.value) - starts(b.term.value))].slice(0, MOST);
}

/** What the rule language understands for sure: people as they were in the visit, and pages seen in it. */
function termsSaid(typed: string, recorded: Recorded): Completion[] {
  const names = namesFrom(
    (id) => [...recorded.segments, ...recorded.campaigns, ...recorded.sets, ...recorded.places].find((one) => one.id === id)?.name ?? id,
  );
  const terms = readTyped(typed, recorded, names).flatMap(({ people, pattern, id, sureness }): VisitTerm[] => {
    if (sureness < 2) return [];
    if (people) return [termFor(people)];
    if (!pattern) return [];
    const seen: PeopleCondition = {
      kind: 'viewed',
      pages: [pattern],
      times: id.startsWith('pages except') ? { max: 0 } : { min: 1 },
      within: 'visit',
    };
    return [termFor(seen)];
  });
  return terms.map((term) => ({ term, words: termWords(term, (one) => names.segment(one)), note: 'as said' }));
}

/** The plainest term that says the same; the whole expression where none does. */
function termFor(people: Expr<PeopleCondition>): VisitTerm {
  const who: VisitTerm = { kind: 'who', value: JSON.stringify(people) };
  if (!('kind' in people)) return who;
  const parts = Object.entries(people).filter(([key, part]) => key !== 'kind' && part !== undefined);
  const [[key, part] = ['', undefined]] = parts;
  const only = parts.length === 1 && Array.isArray(part) && part.length === 1 ? String(part[0]) : undefined;
  if (people.kind === 'device' && key === 'category' && only) return { kind: 'device', value: only };
  if (people.kind === 'source' && key === 'channel' && only) return { kind: 'source', value: only };
  if (people.kind === 'location' && (key === 'countries' || key === 'cities') && only) return { kind: 'place', value: only };
  if (people.kind === 'segment') return { kind: 'segment', value: people.id };
  if (people.kind === 'response' && !people.times && people.within === undefined)
    return { kind: 'outcome', value: `${people.outcome}:${people.campaign}` };
  if (people.kind === 'source' && key === 'utm' && parts.length === 1) {
    const [[tag, test] = ['', undefined]] = Object.entries(people.utm ?? {});
    if ((tag === 'source' || tag === 'campaign') && test?.op === 'is' && Object.keys(people.utm ?? {}).length === 1)
      return { kind: 'source', value: test.value };
  }
  const [page] =
    people.kind === 'viewed' && people.within === 'visit' && people.times?.min === 1 && people.times.max === undefined
      ? (people.pages ?? [])
      : [];
  if (
    people.kind === 'viewed' &&
    people.pages?.length === 1 &&
    page &&
    !('set' in page) &&
    (page.part ?? 'path') === 'path' &&
    (page.op === 'like' || page.op === 'is')
  )
    return { kind: 'page', value: page.value ?? '' };
  return who;
}

const namesFrom = (nameOf: (id: string) => string): WordsFor => ({ segment: nameOf, set: nameOf, campaign: nameOf, place: nameOf });

function everyCompletion({ pages, segments, sources, utmCampaigns, countries, cities, campaigns }: Recorded): Completion[] {
  const times = (count: number, what: string): string => `${count.toLocaleString('en-GB')} ${what}`;
  const sections = new Map<string, number>();
  for (const { path, views } of pages) if (path !== '/') sections.set(sectionOf(path), (sections.get(sectionOf(path)) ?? 0) + views);
  const of = (kind: VisitTerm['kind'], value: string, note: string, name = value): Completion => ({
    term: { kind, value },
    words: termWords({ kind, value }, () => name),
    note,
  });
  return [
    ...[...sections]
      .map(([section, views]) => of('page', `/${section}/**`, times(views, 'views')))
      .sort((a, b) => a.words.length - b.words.length),
    ...pages.map(({ path, views }) => of('page', path, times(views, 'views'))),
    ...segments.map(({ id, name }) => of('segment', id, 'segment', name)),
    ...CHANNELS.map((channel) => of('source', channel, 'source')),
    ...sources.map(({ value, times: count }) => of('source', value, times(count, 'visits'))),
    ...utmCampaigns.map(({ value, times: count }) => of('source', value, times(count, 'visits'))),
    ...DEVICE_CATEGORIES.map((device) => of('device', device, 'device')),
    ...cities.map(({ value, times: count }) => of('place', value, times(count, 'visits'))),
    ...countries.map(({ value, times: count }) => of('place', value, times(count, 'visits'))),
    ...Object.keys(OUTCOME_WORDS).map((outcome) => of('outcome', outcome, 'any campaign')),
    ...campaigns.flatMap(({ id, name }) => [
      of('outcome', `shown:${id}`, 'campaign', name),
      of('outcome', `converted:${id}`, 'campaign', name),
    ]),
  ];
}

function pageAsTyped(typed: string, { pages }: Recorded): Completion {
  const count = pages.filter(({ path }) => path.startsWith(typed)).length;
  const value = typed.includes('*') || pages.some(({ path }) => path === typed) ? typed : `${typed}*`;
  return {
    term: { kind: 'page', value },
    words: termWords({ kind: 'page', value }, (id) => id),
    note: typed.includes('*') ? 'as typed' : `${count} pages begin so`,
  };
}

/** "2 min", "90 s", "1:30" or a plain number of minutes. */
function lengthsIn(text: string): Completion[] {
  const clock = /^(\d{1,3}):([0-5]\d)$/.exec(text);
  const plain =
    /^(?:(?:longer|shorter|at least|at most|over|under)\s+(?:than\s+)?)?(\d{1,5}(?:[.,]\d+)?)\s*(s|sec|seconds?|m|min|minutes?)?$/.exec(
      text,
    );
  const seconds = clock
    ? Number(clock[1]) * 60 + Number(clock[2])
    : plain
      ? Number((plain[1] ?? '').replace(',', '.')) * (plain[2]?.startsWith('s') ? 1 : 60)
      : undefined;
  if (seconds === undefined || seconds === 0) return [];
  return (['longer', 'shorter'] as const).map((kind) => {
    const term = { kind, value: String(Math.round(seconds)) };
    return { term, words: termWords(term, (id) => id), note: 'duration' };
  });
}

/** A term in words; ids of segments and campaigns get their names. */
export function termWords({ kind, value }: VisitTerm, nameOf: (id: string) => string): string {
  switch (kind) {
    case 'page':
      return `saw ${value}`;
    case 'segment':
      return `in ${nameOf(value)}`;
    case 'source':
      return `from ${value}`;
    case 'device':
      return `on a ${value}`;
    case 'place':
      return `in ${value}`;
    case 'outcome': {
      const [outcome = '', campaign] = value.split(':');
      const words = OUTCOME_WORDS[outcome as keyof typeof OUTCOME_WORDS] ?? outcome;
      return campaign === undefined
        ? outcome === 'shown'
          ? 'was shown something'
          : words
        : `${words} ${outcome === 'converted' ? 'in ' : ''}${nameOf(campaign)}`;
    }
    case 'who': {
      const people = peopleIn(value);
      return people ? exprWords(people, 'people', (condition) => conditionWords(condition, namesFrom(nameOf))) : value;
    }
    case 'longer':
      return `at least ${secondsWords(Number(value))} long`;
    case 'shorter':
      return `at most ${secondsWords(Number(value))} long`;
  }
}

const secondsWords = (seconds: number): string =>
  seconds % 60 === 0 ? `${seconds / 60} min` : seconds < 60 ? `${seconds} s` : `${Math.floor(seconds / 60)} min ${seconds % 60} s`;
