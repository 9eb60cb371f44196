import type { Visitor } from '../history/visitor';
import { keyOf } from './merge';

/** What can be put into a text about a visitor: their traits by their keys, and where they are, as texts. Of certain names only, where `wanted` says which. */
export function valuesOf({ traits, location }: Pick<Visitor, 'traits' | 'location'>, wanted?: readonly string[]): Record<string, string> {
  const known = new Map<string, unknown>(Object.entries(traits).map(([key, value]) => [keyOf(key), value]));
  for (const [key, value] of Object.entries({ city: location?.city, country: location?.country }))
    if (value !== undefined && !known.has(key)) known.set(key, value);
  return Object.fromEntries(
    (wanted ?? [...known.keys()]).flatMap((name) => {
      const value = known.get(name);
      return typeof value === 'string' || typeof value === 'number' ? [[name, String(value)]] : [];
    }),
  );
}
