// What typing into a sentence offers: first what was said, as every kind understands it, then what the site has recorded. Pure.
import type { PeopleCondition } from '@/core/people/condition';
import { peopleKinds } from '@/core/people/condition';
import { momentKinds } from '@/core/moments/moment';
import type { PagePattern } from '@/core/pages/pattern';
import type { WordsFor } from '@/core/pages/names';
import type { Family } from '@/core/rules/describe';
import type { Rule } from '@/core/rules/schema';
import type { RuleReading } from '@/core/rules/typed';
import { momentReading, pageReading, peopleReading, readTyped } from '@/core/rules/typed';
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
const NOTES: Readonly<Record<Family, string>> = { people: 'who', pages: 'where', moment: 'when', pacing: 'how often' };

/** Phrases that fit what is typed, the surest first. */
export function phraseOffers(typed: string, recorded: Recorded, names: WordsFor): PhraseOffer[] {
  const text = typed.trim();
  if (text === '') return [];
  const read = [...readTyped(text, recorded, names), ...viewedBeside(text, recorded, names), ...ofNumber(text, recorded, names)];
  return offersOf([...surestFirst(read), ...completions(text, recorded, names)], recorded);
}

/** The same for people alone: pages become pages that were viewed. `self` is the segment under way, which cannot ask for itself. */
export function peopleOffers(typed: string, recorded: Recorded, names: WordsFor, self: string): PhraseOffer[] {
  const text = typed.trim();
  if (text === '') return [];
  const others = { ...recorded, segments: recorded.segments.filter(({ id }) => id !== self) };
  const all = [...readTyped(text, others, names), ...ofNumber(text, others, names), ...completions(text, others, names)];
  const people = all.flatMap((reading): RuleReading[] => {
    if (reading.family === 'people') return [reading];
    if (!reading.pattern) return [];
    const isDenied = reading.id.startsWith('pages except');
    const viewed: PeopleCondition = { kind: 'viewed', pages: [reading.pattern], times: isDenied ? { max: 0 } : { min: 1 } };
    return [peopleReading(viewed, { sureness: reading.sureness, names })];
  });
  return offersOf(surestFirst(people), others);
}

const surestFirst = (readings: readonly RuleReading[]): RuleReading[] => [...readings].sort((a, b) => b.sureness - a.sureness);

function offersOf(readings: readonly RuleReading[], recorded: Recorded): PhraseOffer[] {
  const once = new Map<string, PhraseOffer>();
  for (const { id, family, words, addTo, ...rest } of readings)
    if (!once.has(id)) once.set(id, { id, family, words, addTo, note: noteOn({ family, ...rest }, recorded) });
  return [...once.values()].slice(0, MOST);
}

/** A path may also be a page that was viewed. */
function viewedBeside(text: string, recorded: Recorded, names: WordsFor): RuleReading[] {
  return readTyped(text, recorded, names).flatMap(({ pattern, id }) =>
    pattern === undefined
      ? []
      : [
          ...(id.startsWith('pages on') ? [pageReading(pattern, { field: 'except', sureness: 0.9, names })] : []),
          peopleReading({ kind: 'viewed', pages: [pattern], times: { min: 1 } }, { sureness: 0.9, names }),
        ],
  );
}

/** A number alone may have any unit. */
function ofNumber(text: string, recorded: Recorded, names: WordsFor): RuleReading[] {
  if (!/^\d{1,4}(?:[.,]\d+)?$/.test(text)) return [];
  return ['s', 's idle', 's engaged', '%', 'days', 'visits'].flatMap(
    (unit) =>
      readTyped(`${text} ${unit}`, recorded, names)
        .filter(({ sureness }) => sureness >= 2)
        .slice(0, 1)
        .map((reading) => ({ ...reading, sureness: 2 })), // One unit is as likely as another.
  );
}

/** What has all the words typed in it: things on record, and kinds of conditions by what they are called. */
function completions(text: string, recorded: Recorded, names: WordsFor): RuleReading[] {
  const asked = text.toLowerCase();
  const words = asked.split(/\s+/);
  const fits = (search: string): boolean => words.every((word) => search.toLowerCase().includes(word));
  const sureness = (search: string): number => (search.toLowerCase().startsWith(asked) ? 0.45 : 0.3);
  const page = (pattern: PagePattern, search: string): RuleReading[] =>
    fits(search) ? [pageReading(pattern, { sureness: sureness(search), names })] : [];
  const people = (condition: PeopleCondition, search: string): RuleReading[] =>
    fits(search) ? [peopleReading(condition, { sureness: sureness(search), names })] : [];
  const sections = [...new Set(recorded.pages.filter(({ path }) => path !== '/').map(({ path }) => sectionOf(path)))];
  const found = [
    ...sections.flatMap((section) => page({ op: 'like', value: `/${section}/**` }, `/${section}/** ${section}`)),
    ...recorded.sets.flatMap(({ id, name }) => page({ set: id }, name)),
    ...recorded.pages.flatMap(({ path }) => page({ op: 'is', value: path }, path)),
    ...recorded.countries.flatMap(({ value }) => people({ kind: 'location', countries: [value] }, value)),
    ...peopleKinds().flatMap(({ isSupplied, kind, editor: { label, make } }) =>
      isSupplied && kind !== 'segment' && kind !== 'response' && kind !== 'tagged' ? people(make(), label) : [],
    ),
    ...momentKinds().flatMap(({ editor: { label, make } }) =>
      fits(label) && !('selector' in make()) ? [momentReading(make(), { sureness: sureness(label) })] : [],
    ),
  ];
  return found.sort((a, b) => b.sureness - a.sureness);
}

/** How often what an offer names was recorded. */
function noteOn({ family, people, pattern }: Pick<RuleReading, 'family' | 'people' | 'pattern'>, recorded: Recorded): string {
  const times = (count: number, what: string): string => `${count.toLocaleString('en-GB')} ${what}`;
  const countIn = (list: readonly { value: string; times: number }[], value: string | undefined, what: string): string | undefined => {
    const found = list.find((one) => one.value === value);
    return found && times(found.times, what);
  };
  if (pattern) return pageNote(pattern, recorded);
  if (people && 'kind' in people) {
    if (people.kind === 'viewed' && people.pages?.length === 1 && people.pages[0]) return pageNote(people.pages[0], recorded);
    if (people.kind === 'segment') return 'segment';
    if (people.kind === 'response') return 'campaign';
    const own =
      (people.kind === 'did' ? countIn(recorded.events, people.event, 'times') : undefined) ??
      (people.kind === 'tagged' ? countIn(recorded.tags, people.tag, 'people') : undefined) ??
      (people.kind === 'location'
        ? (countIn(recorded.cities, people.cities?.[0], 'visits') ?? countIn(recorded.countries, people.countries?.[0], 'visits'))
        : undefined) ??
      (people.kind === 'source' && people.utm?.source?.op === 'is'
        ? countIn(recorded.sources, people.utm.source.value, 'visits')
        : undefined) ??
      (people.kind === 'source' && people.utm?.campaign?.op === 'is'
        ? countIn(recorded.utmCampaigns, people.utm.campaign.value, 'visits')
        : undefined);
    if (own !== undefined) return own;
  }
  return NOTES[family];
}

function pageNote(pattern: PagePattern, { pages, sets }: Recorded): string {
  if ('set' in pattern) return `page set ${sets.find(({ id }) => id === pattern.set)?.name ?? ''}`.trim();
  const { value = '' } = pattern;
  const page = pages.find(({ path }) => path === value);
  if (page) return `${page.views.toLocaleString('en-GB')} views`;
  if (pattern.op !== 'like' || !value.endsWith('*')) return NOTES.pages;
  const begins = value.replace(/\/?\*+$/, '');
  const count = pages.filter(({ path }) => path.startsWith(begins)).length;
  return count === 1 ? '1 page begins so' : `${count} pages begin so`;
}
