// What a try-out knows: kept in this tab alone, across its pages, and nowhere else.
import type { Pretend, Tried } from '@/core/tryout/asked';
import type { Signal } from '@/core/moments/signal';
import { toJson } from '../json';

/** The same name as in `main.ts`. */
const KEPT = 'crindle';
const MOST_VIEWS = 60;
const MOST_SIGNALS = 400;

/** A page that was looked at, as the ribbon draws it. Instants are UTC ms by the clock of the try-out, `to` as long as it is open the last that is known. */
export interface TriedView {
  readonly path: string;
  readonly at: number;
  to: number;
  readonly signals: Signal[];
  readonly shown: { readonly campaign: string; readonly at: number }[];
}

export interface Session {
  /** The site's key. */
  readonly key: string;
  token: string;
  /** A field of the studio waits for something to be pointed at. */
  wants: 'page' | 'element' | null;
  chosen?: string | undefined;
  /** How far its clock is ahead of the browser's, in ms. */
  ahead: number;
  pretend: Pretend;
  tried: Tried;
  ribbon: TriedView[];
  /** What the page script remembers between pages, by name. */
  memory: Record<string, string>;
  looks: { isSmall: boolean; isTop: boolean };
}

const nothingTried = (): Pick<Session, 'tried' | 'ribbon' | 'memory'> => ({
  tried: { visits: [], known: false, traits: {}, tags: [], score: 0, responses: [] },
  ribbon: [],
  memory: {},
});

let current: Session | undefined;
let isForgotten = false;

/** The one of this tab. @throws where there is none */
export function session(): Session {
  if (!current) throw new Error('no try-out');
  return current;
}

/** Of the ticket in the address, which goes out of it at once, or of what this tab has kept; undefined where it is another site's, or none. */
export function openSession(key: string): { readonly ticket?: string } | undefined {
  const [whole, named, ticket] = /#?crindle=([\w-]+)\.([\w-]+)$/.exec(location.hash) ?? [];
  if (whole && ticket) {
    if (named !== key) return undefined;
    history.replaceState(history.state, '', location.pathname + location.search + location.hash.slice(0, -whole.length));
    current = {
      key,
      token: '',
      wants: null,
      ahead: 0,
      pretend: {},
      ...nothingTried(),
      looks: { isSmall: innerHeight < 620, isTop: false },
    };
    return { ticket };
  }
  try {
    const kept = JSON.parse(sessionStorage.getItem(KEPT) ?? 'null') as Session | null;
    if (kept?.key !== key) return undefined;
    current = kept;
    return {};
  } catch {
    return undefined;
  }
}

export function saveSession(): void {
  if (!current || isForgotten) return;
  const { ribbon } = current;
  ribbon.splice(0, ribbon.length - MOST_VIEWS);
  for (const { signals } of ribbon) signals.splice(0, signals.length - MOST_SIGNALS);
  try {
    sessionStorage.setItem(KEPT, toJson(current));
  } catch {
    // Full, or closed: the try-out lasts as long as the page.
  }
}

/** Nothing of it is kept any more; what runs in this page goes on until the page is left. */
export function forgetSession(): void {
  isForgotten = true;
  try {
    sessionStorage.removeItem(KEPT);
  } catch {
    // Nothing was kept.
  }
}

/** Somebody who was never here; what is pretended stays. */
export function startAfresh(): void {
  Object.assign(session(), nothingTried());
  saveSession();
}
