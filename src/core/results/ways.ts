/** How a showing ended, at its last message: answers were sent, it was dismissed, something in it was pressed, or it was left as it was. */
export const ENDINGS = ['sent', 'dismissed', 'pressed', 'left'] as const;
export type Ending = (typeof ENDINGS)[number];

/** Showings that went the same way. */
export interface WayTaken {
  /** The variant dealt; null where there are none. */
  readonly variant: string | null;
  /** Messages seen after the first, in their order. */
  readonly path: readonly string[];
  readonly ending: Ending;
  readonly showings: number;
}

export interface Ways {
  readonly showings: number;
  /** By message in how many showings it was seen. */
  readonly seen: Readonly<Record<string, number>>;
  /** In how many showings somebody went from one to another, at least once. */
  readonly went: readonly { readonly from: string; readonly to: string; readonly showings: number }[];
  /** By message how showings ended there. */
  readonly ended: Readonly<Record<string, Readonly<Partial<Record<Ending, number>>>>>;
}

/** Where showings of a flow went. `startOf`: the message with which a variant begins. */
export function waysOf(taken: readonly WayTaken[], startOf: (variant: string | null) => string): Ways {
  const seen: Record<string, number> = {};
  const ended: Record<string, Partial<Record<Ending, number>>> = {};
  const went = new Map<string, { from: string; to: string; showings: number }>();
  let all = 0;
  for (const { variant, path, ending, showings } of taken) {
    const messages = [startOf(variant), ...path];
    all += showings;
    for (const message of new Set(messages)) seen[message] = (seen[message] ?? 0) + showings;
    const pairs = new Map(messages.slice(1).map((to, nth) => [`${messages[nth]} ${to}`, { from: messages[nth] as string, to }]));
    for (const [key, pair] of pairs) went.set(key, { ...pair, showings: (went.get(key)?.showings ?? 0) + showings });
    const at = (ended[messages.at(-1) as string] ??= {});
    at[ending] = (at[ending] ?? 0) + showings;
  }
  return { showings: all, seen, went: [...went.values()].sort((a, b) => b.showings - a.showings), ended };
}
