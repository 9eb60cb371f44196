import { DAY_MS } from '../time/day';

export interface ShownAt {
  readonly id: string;
  readonly at: number;
}
export interface ConvertedAt {
  readonly id: string;
  readonly at: number;
}

/**
 * To which showing each of one visitor's conversions is owed: the first or the last one that came before it, at most
 * `days` earlier. Conversions without such a showing are left out. Instants are UTC ms; a showing at the very instant counts.
 */
export function attribute(
  showings: readonly ShownAt[],
  conversions: readonly ConvertedAt[],
  { days, to }: { days: number; to: 'first' | 'last' },
): { conversion: string; showing: string }[] {
  const inOrder = [...showings].sort((a, b) => a.at - b.at);
  return conversions.flatMap(({ id, at }) => {
    const before = inOrder.filter((showing) => showing.at <= at && showing.at > at - days * DAY_MS);
    const owed = to === 'first' ? before[0] : before.at(-1);
    return owed ? [{ conversion: id, showing: owed.id }] : [];
  });
}
