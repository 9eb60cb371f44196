/** Ids of what a rule, a segment or a part of one names. */
export interface References {
  readonly segments: readonly string[];
  readonly sets: readonly string[];
  readonly places: readonly string[];
}

/** Walks a stored document; works on any part of one, and on documents of an older version. */
export function referencesIn(document: unknown): References {
  const found = { segments: new Set<string>(), sets: new Set<string>(), places: new Set<string>() };
  const walk = (value: unknown): void => {
    if (Array.isArray(value)) return value.forEach(walk);
    if (typeof value !== 'object' || value === null) return;
    const { kind, id, set, places } = value as Readonly<Record<string, unknown>>;
    if (kind === 'segment' && typeof id === 'string') found.segments.add(id);
    if (typeof set === 'string') found.sets.add(set);
    if (kind === 'location' && Array.isArray(places)) places.forEach((place) => typeof place === 'string' && found.places.add(place));
    Object.values(value).forEach(walk);
  };
  walk(document);
  return { segments: [...found.segments], sets: [...found.sets], places: [...found.places] };
}
