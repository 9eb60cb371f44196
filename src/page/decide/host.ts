import type { SentSignal } from '@/core/wire/items';
import type { SentItem } from '@/core/wire/items';
import type { Release } from '@/core/release/release';
import type { State } from '../state';
import type { Store } from '../store';
import type { PageView } from '../view';

/** What the page script's other parts may do with the part that every page loads. */
export interface Host {
  /** The collector's address with a slash at the end. */
  readonly base: string;
  /** The site's, as the collector knows it; none where nothing is recorded. */
  readonly siteKey?: string;
  readonly state: State;
  readonly store: Store;
  readonly now: () => number;
  /** IANA name of the browser's time zone. */
  readonly zone: () => string;
  readonly view: () => PageView;
  readonly release: () => Release | undefined;
  /** Values of the visitor that messages put in. */
  readonly values: () => Readonly<Record<string, string>>;
  /** Keeps an item for the collector and sends it soon. */
  readonly send: (item: SentItem) => void;
  readonly save: () => void;
  readonly emit: (body: SentSignal) => void;
  /** Tells the page's own listeners. */
  readonly tell: (what: string, detail: unknown) => void;
  readonly did: (name: unknown, props?: unknown) => void;
  readonly tag: (name: unknown) => void;
  readonly score: (points: unknown) => void;
}
