// What a text can say of the visitor who reads it: their traits, where they are, where they came from, when they were last here, pages that
// they viewed, and what an event said.
import type { Visitor } from '../history/visitor';
import type { Reads } from '../people/reads';
import { anyPatternHolds } from '../pages/pages';
import type { PageSets } from '../pages/pattern';
import { keyOf } from './merge';

type Of = Pick<Visitor, 'traits' | 'location' | 'visits'>;

const DAY_MS = 86_400_000;
const MOST_VIEWED = 'most_viewed_';
const LAST_VIEWED = 'last_viewed_';
const LAST = 'last_';

/** Of nobody's traits; a trait of the same name goes before. */
const PLAIN: Readonly<Record<string, (visitor: Of, now: number) => string | number | undefined>> = {
  city: ({ location }) => location?.city,
  town: ({ location }) => location?.city,
  country: ({ location }) => location?.country,
  source: ({ visits }) => {
    const source = visits.at(-1)?.source;
    return source?.utm.source ?? source?.referrer ?? (source?.channel === 'direct' ? undefined : source?.channel);
  },
  days_since_last_visit: ({ visits }, now) => {
    const before = visits.at(-2);
    if (!before) return undefined;
    const lastAt = Math.max(before.at, before.views.at(-1)?.at ?? 0);
    return Math.max(0, Math.floor((now - lastAt) / DAY_MS));
  },
};

/**
 * What can be put into a text, by its key, as texts: of `wanted` keys only. `now`: UTC ms. `sets`: a set is named by its id. A value that is not
 * known is left out.
 */
export function valuesOf(
  visitor: Of,
  { wanted, now, sets = {} }: { wanted: readonly string[]; now: number; sets?: PageSets },
): Record<string, string> {
  const traits = new Map(Object.entries(visitor.traits).map(([key, value]) => [keyOf(key), value]));
  const idOf = (rest: string): string | undefined => Object.keys(sets).find((id) => keyOf(id) === rest);
  const find = (name: string): unknown => {
    if (traits.has(name)) return traits.get(name);
    if (Object.hasOwn(PLAIN, name)) return PLAIN[name]?.(visitor, now);
    for (const [start, pick] of [[MOST_VIEWED, mostOf] as const, [LAST_VIEWED, (titles: readonly string[]) => titles.at(-1)] as const])
      if (name.startsWith(start)) {
        const set = idOf(name.slice(start.length));
        return set === undefined ? undefined : pick(titlesIn(visitor, set, sets));
      }
    return name.startsWith(LAST) ? ofEvent(visitor, name.slice(LAST.length)) : undefined;
  };
  return Object.fromEntries(
    wanted.flatMap((name) => {
      const value = find(name);
      return (typeof value === 'string' && value !== '') || typeof value === 'number' ? [[name, String(value)]] : [];
    }),
  );
}

/** Titles of viewed pages of a set, oldest first; the page they are on now is not among them. */
function titlesIn({ visits }: Of, set: string, sets: PageSets): string[] {
  const views = visits.flatMap((visit) => visit.views);
  return views.slice(0, -1).flatMap((view) => {
    const title = nameOf(view.title);
    return title && anyPatternHolds([{ set }], view, sets) === true ? [title] : [];
  });
}

/** What the page is called, without what every page of a site has behind it: "Tarn hut – Tarnhollow Huts". */
const nameOf = (title = ''): string => (title.split(/\s[–—|·]\s|\s-\s/)[0] ?? '').trim();

/** The one that is there most often, the latest of those that are there as often. */
function mostOf(titles: readonly string[]): string | undefined {
  const times = new Map<string, number>();
  let most: string | undefined;
  for (const title of titles) {
    times.set(title, (times.get(title) ?? 0) + 1);
    if (most === undefined || (times.get(title) as number) >= (times.get(most) as number)) most = title;
  }
  return most;
}

/** `rest`: the event and one of its properties, as keys: "booking_hut". The newest event that has it counts. */
function ofEvent({ visits }: Of, rest: string): unknown {
  for (const visit of visits.toReversed())
    for (const { name, props } of visit.events.toReversed()) {
      const start = `${keyOf(name)}_`;
      if (!rest.startsWith(start)) continue;
      const found = Object.keys(props).find((key) => keyOf(key) === rest.slice(start.length));
      if (found !== undefined) return props[found];
    }
  return undefined;
}

/** What has to be read of a history for these values. */
export function readsOfValues(wanted: readonly string[]): Reads {
  const views = wanted.some((name) => name.startsWith(MOST_VIEWED) || name.startsWith(LAST_VIEWED));
  const events = wanted.some((name) => name.startsWith(LAST) && !name.startsWith(LAST_VIEWED));
  return { views, events, profile: wanted.length > 0, responses: false };
}

/** Everything that a site's texts could say, as it is written in them. */
export function valueNames({
  traits,
  sets,
  events,
}: {
  traits: readonly string[];
  /** Names of page sets. */
  sets: readonly string[];
  events: readonly { readonly name: string; readonly prop: string }[];
}): string[] {
  const spoken = (name: string): string => keyOf(name).replaceAll('_', ' ');
  const names = [
    ...traits.map(spoken),
    'town',
    'country',
    'source',
    'days since last visit',
    ...sets.flatMap((name) => [`most viewed ${spoken(name)}`, `last viewed ${spoken(name)}`]),
    ...events.map(({ name, prop }) => `last ${spoken(name)} ${spoken(prop)}`),
  ];
  // A comma or a brace would end the name.
  return [...new Set(names)].filter((name) => !/[{},]/.test(name));
}

const OF_SET = /\{(\s*(?:most|last)[\s_-]+viewed[\s_-]+)([^{},]+)(?=[,}])/gi;

/** A document whose texts name page sets by their ids in place of their names, so that a release stands when a set is renamed. `ids`: by the keys of names. */
export function withSetIds<T>(document: T, ids: ReadonlyMap<string, string>): T {
  const text = JSON.stringify(document);
  const next = text.replace(OF_SET, (met, start: string, name: string) => {
    const id = ids.get(keyOf(name));
    return id === undefined ? met : `{${start}${id}`;
  });
  return next === text ? document : (JSON.parse(next) as T);
}
