import { useMemo } from 'react';
import type { Link } from '@/core/flows/links';
import { linksFrom } from '@/core/flows/links';
import type { Message } from '@/core/messages/message';

/** The links of each message, worked out once for as long as the message stays the same object. */
export function useLinks(messages: readonly Message[], ids: readonly string[], goal: string): ReadonlyMap<string, readonly Link[]> {
  const known = useMemo(() => ({ ids: new Set(ids), goal, links: new WeakMap<Message, Link[]>() }), [ids, goal]);
  return useMemo(() => {
    const by = new Map<string, readonly Link[]>();
    for (const message of messages) {
      const links = known.links.get(message) ?? linksFrom(message, { known: known.ids, goal: { kind: known.goal } });
      known.links.set(message, links);
      by.set(message.id, links);
    }
    return by;
  }, [messages, known]);
}

/** The same list for as long as it says the same. */
export function useSteadyList(list: readonly string[]): readonly string[] {
  const text = JSON.stringify(list);
  return useMemo(() => JSON.parse(text) as string[], [text]);
}
