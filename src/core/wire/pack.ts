import type { Signal } from '../moments/signal';

/** The kinds of signal by number; a new one goes to the end. */
export const KINDS = ['scroll', 'input', 'click', 'exit', 'hide', 'show', 'seen', 'event', 'whole'] as const;
/** What each kind has besides its time, in order. */
export const PARTS: readonly (readonly string[])[] = [
  ['depth'],
  [],
  ['on', 'what'],
  [],
  [],
  [],
  ['selector', 'share', 'top'],
  ['name', 'props'],
  [],
];

/** On the wire: ms since the signal before (since the opening for the first of a piece), the kind's number, then its parts. */
export type PackedSignal = readonly unknown[];

/**
 * A page view has some twenty signals: as lists they weigh a third of what they would as objects. The signals' properties
 * must stand in the order in which their types name them.
 */
export function packSignals(signals: readonly Signal[]): PackedSignal[] {
  let last = 0;
  return signals.map((signal) => {
    const [t, s, ...parts] = Object.values(signal) as [number, Signal['s'], ...unknown[]];
    const since = t - last;
    last = t;
    return [since, KINDS.indexOf(s), ...parts];
  });
}

/** Undoes `packSignals` without judging what is in it; whatever is no list of at least two stays as it is. */
export function unpackSignals(given: unknown): unknown {
  if (!Array.isArray(given)) return given;
  let last = 0;
  return given.map((packed: unknown) => {
    if (!Array.isArray(packed) || packed.length < 2) return packed;
    const [since, kind, ...parts] = packed as unknown[];
    last = typeof since === 'number' ? last + since : NaN;
    const known = typeof kind === 'number' ? kind : NaN;
    const names = PARTS[known] ?? [];
    const named = names.flatMap((name, index) => (parts[index] === undefined || parts[index] === null ? [] : [[name, parts[index]]]));
    const tooMany = parts.length > names.length ? { more: parts.slice(names.length) } : {};
    return { t: last, s: KINDS[known] ?? kind, ...(Object.fromEntries(named) as object), ...tooMany };
  });
}
