import { useEffect, useReducer } from 'react';
import type { RecordedVisit } from '@/server/db/visits';
import type { LiveNews } from '@/server/today/live';
import { addressOf } from '../parts/net/call';

export interface Live {
  readonly news: Omit<LiveNews, 'changed' | 'order'>;
  /** Visits under way, the last sign of life first. */
  readonly visits: readonly RecordedVisit[];
  /** How far this browser's clock is behind the server's, in ms. */
  readonly behind: number;
}

interface State {
  readonly live?: Live;
  readonly trouble?: string;
}

export type Said =
  { readonly kind: 'news'; readonly news: LiveNews; readonly now: number } | { readonly kind: 'trouble'; readonly message: string };

/** What is known after one more thing was said: visits that did not change are kept, those that left are dropped. */
export function afterSaid(state: State, said: Said): State {
  if (said.kind === 'trouble') return { ...state, trouble: said.message };
  const { order, changed, ...news } = said.news;
  const known = new Map([...(state.live?.visits ?? []), ...changed].map((visit) => [visit.id, visit]));
  return { live: { news, visits: order.flatMap((id) => known.get(id) ?? []), behind: news.at - said.now } };
}

const LOST = 'The connection is lost; it is tried again.';

/** Follows the site's event stream for as long as the screen is open. */
export function useLive(): State {
  const [state, say] = useReducer(afterSaid, {});
  useEffect(() => {
    const stream = new EventSource(addressOf('GET /api/live'));
    stream.addEventListener('news', (event: MessageEvent<string>) =>
      say({ kind: 'news', news: JSON.parse(event.data) as LiveNews, now: Date.now() }),
    );
    stream.addEventListener('trouble', (event: MessageEvent<string>) =>
      say({ kind: 'trouble', message: (JSON.parse(event.data) as { message: string }).message }),
    );
    stream.onerror = () => say({ kind: 'trouble', message: LOST });
    return () => stream.close();
  }, []);
  return state;
}
