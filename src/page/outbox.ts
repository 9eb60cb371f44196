import type { BatchAnswer, SentItem } from '@/core/wire/items';
import { guard, later } from './guard';
import { toJson } from './json';
import type { Store } from './store';

const FIRST_WAIT_MS = 1000;
const LONGEST_WAIT_MS = 60_000;
/** A browser gives all beacons and keepalive requests of a page 64 KiB together. */
const BATCH_BYTES = 48_000;
const MOST_KEPT = 400;

interface Kept {
  readonly id: string;
  readonly item: SentItem;
}

export interface Outbox {
  readonly put: (item: SentItem) => void;
  readonly flush: () => void;
  /** Asks what the collector has to tell, with nothing to say. */
  readonly ask: () => void;
  /** For a page that is going away: hands over what is left without waiting for an answer, and keeps it until acknowledged. */
  readonly leave: () => void;
  /** With `forget` what is on its way is called back, too, and that the visitor wants no more of it is the last that is said. */
  readonly stop: (forget?: boolean) => void;
}

/** Keeps items in order until the collector has acknowledged them, across page loads, and sends again until then. */
export function openOutbox({
  url,
  siteKey,
  browser,
  about,
  store,
  newId,
  onAnswer,
}: {
  url: string;
  siteKey: string;
  browser: string;
  /** What is said with every batch, as it is by then. */
  about: () => object;
  store: Store;
  newId: () => string;
  onAnswer: (answer: BatchAnswer) => void;
}): Outbox {
  // What is no list, by another's hand or by a page's odd built-ins, is thrown away.
  const stored = (): Kept[] => {
    const all = store.read<Kept[]>('outbox');
    return all instanceof Array ? all.filter((one) => one?.item) : [];
  };
  let kept = stored();
  /** A request is under way, or the collector has named a time until which it wants none. */
  let isHeld = false;
  let isStopped = false;
  let wait = FIRST_WAIT_MS;
  /** Items sent at once: one by one, once the collector has failed at several. */
  let most = Infinity;
  let timer: ReturnType<typeof setTimeout> | undefined;
  const recall = new AbortController();

  /** What is stored is all tabs' together: each takes out and puts in its own alone. */
  const keep = (change: (stored: Kept[]) => Kept[]): void => store.write('outbox', trim(change(stored())));
  const body = (batch: readonly Pick<Kept, 'item'>[]): string =>
    toJson({ key: siteKey, browser, now: Date.now(), ...about(), items: batch.map(({ item }) => item) });

  function nextBatch(): Kept[] {
    let bytes = 0;
    // One oversized item still goes, alone: the collector says what is wrong with it.
    const end = kept.findIndex(({ item }, index) => ((bytes += toJson(item).length) > BATCH_BYTES || index >= most) && index > 0);
    return kept.slice(0, end < 0 ? most : end);
  }

  function forget(batch: readonly Kept[]): void {
    const others = (all: Kept[]): Kept[] => all.filter(({ id }) => !batch.some((one) => one.id === id));
    kept = others(kept);
    keep(others);
  }

  const send = guard('send', async (asks?: boolean) => {
    const batch = nextBatch();
    if ((batch.length === 0 && !asks) || isHeld || isStopped) return;
    isHeld = true;
    clearTimeout(timer);
    const answer = await post(url, body(batch), recall.signal);
    isHeld = false;
    if ('later' in answer) {
      // What is too much for the collector stands back, so that the others go.
      if (answer.fails) {
        most = 1;
        if (batch.length === 1) kept.push(...kept.splice(0, 1));
      }
      // The collector may name the time after which it can take more. Until then it is left alone, whatever comes.
      isHeld = answer.later > 0;
      timer = later(
        () => {
          isHeld = false;
          send();
        },
        Math.max(wait, answer.later),
      );
      wait = Math.min(wait * 2, LONGEST_WAIT_MS);
      return;
    }
    wait = FIRST_WAIT_MS;
    most = Infinity;
    forget(batch);
    if (!('refused' in answer) && !isStopped) onAnswer(answer);
    if (kept.length) send();
  });

  const hand = (text: string): void => {
    // Where there is no beacon, or it is refused, a request that outlives the page does the same.
    if (!globalThis.navigator?.sendBeacon?.(url, text)) void post(url, text);
  };
  return {
    put: (item) => {
      const one = { id: newId(), item };
      kept.push(one);
      trim(kept);
      keep((stored) => [...stored, one]);
    },
    flush: () => send(),
    ask: () => send(true),
    leave: () => {
      const batch = nextBatch();
      if (batch.length && !isStopped) hand(body(batch));
    },
    stop: (forget) => {
      isStopped = true;
      clearTimeout(timer);
      if (forget) {
        recall.abort();
        hand(body([{ item: { kind: 'denied' } }]));
      }
    },
  };
}

/** Signals are the first to go when a collector stays away for days; leads, events and showings stay. */
function trim(all: Kept[]): Kept[] {
  while (all.length > MOST_KEPT)
    all.splice(
      Math.max(
        0,
        all.findIndex(({ item }) => item.kind === 'piece'),
      ),
      1,
    );
  return all;
}

/** The collector's answer; `refused` if sending it again cannot help, `later` (ms at least) if it can. */
async function post(
  url: string,
  text: string,
  signal?: AbortSignal,
): Promise<BatchAnswer | { readonly refused: true } | { readonly later: number; readonly fails?: boolean }> {
  try {
    const response = await fetch(url, {
      method: 'POST',
      body: text,
      keepalive: text.length < BATCH_BYTES,
      credentials: 'omit',
      signal: signal ?? null,
    });
    if (response.ok) return (await response.json()) as BatchAnswer;
    if (response.status < 500 && response.status !== 429) return { refused: true };
    return { later: (Number(response.headers.get('retry-after')) || 0) * 1000, fails: response.status === 500 };
  } catch {
    return { later: 0 }; // No network, or the collector is down: both pass.
  }
}
