import { keyOf } from '../messages/merge';

/** A brace written twice, or a value of the site: "{site phone}", "{site phone, or …}". */
const SITE_VALUE = /\{\{|\}\}|\{\s*site[\s_-]+([^{},]+)(?:,\s*or\s+([^{}]*))?\}/gi;

/** A document in which every value of the site stands in its place, or what is said instead of one that is not there. What has none in it stays the same object. `texts`: by their keys. */
export function withSiteValues<T>(document: T, texts: ReadonlyMap<string, string>): T {
  const within = (value: unknown): unknown => {
    if (typeof value === 'string')
      return value.includes('{')
        ? value.replace(SITE_VALUE, (met, name: string | undefined, fallback: string | undefined) =>
            name === undefined ? met : (texts.get(keyOf(name)) ?? fallback?.trim() ?? met),
          )
        : value;
    if (typeof value !== 'object' || value === null) return value;
    if (Array.isArray(value)) {
      const next = value.map(within);
      return next.some((one, index) => one !== value[index]) ? next : value;
    }
    const entries = Object.entries(value).map(([key, one]) => [key, within(one)] as const);
    return entries.some(([key, one]) => one !== (value as Record<string, unknown>)[key]) ? Object.fromEntries(entries) : value;
  };
  return within(document) as T;
}

/** Keys of the site's values that texts anywhere in a document name, once each. */
export function siteValuesIn(document: unknown): string[] {
  return [...new Set([...namedIn(document)].map(({ key }) => key))];
}

/** Every place where a document names a value of the site. */
export function* namedIn(document: unknown): Generator<{ readonly key: string; readonly name: string; readonly hasFallback: boolean }> {
  if (typeof document === 'string') {
    for (const [, name, fallback] of document.matchAll(SITE_VALUE))
      if (name !== undefined) yield { key: keyOf(name), name: name.trim(), hasFallback: fallback !== undefined };
  } else if (typeof document === 'object' && document !== null) for (const value of Object.values(document)) yield* namedIn(value);
}
