import type { BatchAnswer, Item, Told } from '@/core/wire/items';
import type { Store } from './store';

const FIRST_WAIT_MS = 1000;
const LONGEST_WAIT_MS = 60_000;
/** A browser gives all beacons and keepalive requests of a page 64 KiB together. */
const BATCH_BYTES = 48_000;
const MOST_KEPT = 400;

interface Kept {
  readonly id: string;
  readonly item: Item;
}

export interface Outbox {
  readonly put: (item: Item) => void;
  readonly flush: () => void;
  /** For a page that is going away: hands over what is left without waiting for an answer, and keeps it until acknowledged. */
  readonly leave: () => void;
  readonly stop: () => void;
}

/** Keeps items in order until the collector has acknowledged them, across page loads, and sends again until then. */
export function openOutbox({
  url,
  siteKey,
  browser,
  store,
  newId,
  onTold,
}: {
  url: string;
  siteKey: string;
  browser: string;
  store: Store;
  newId: () => string;
  onTold: (told: Told) => void;
}): Outbox {
  let kept = store.read<Kept[]>('outbox') ?? [];
  let isSending = false;
  let isStopped = false;
  let wait = FIRST_WAIT_MS;
  let timer: ReturnType<typeof setTimeout> | undefined;

  const keep = (): void => store.write('outbox', kept);
  const body = (batch: readonly Kept[]): string =>
    JSON.stringify({ key: siteKey, browser, now: Date.now(), items: batch.map(({ item }) => item) });

  function nextBatch(): Kept[] {
    let bytes = 0;
    // One oversized item still goes, alone: the collector says what is wrong with it.
    const end = kept.findIndex(({ item }, index) => (bytes += JSON.stringify(item).length) > BATCH_BYTES && index > 0);
    return end < 0 ? kept.slice() : kept.slice(0, end);
  }

  function forget(batch: readonly Kept[]): void {
    const ids = new Set(batch.map(({ id }) => id));
    kept = kept.filter(({ id }) => !ids.has(id));
    keep();
  }

  async function send(): Promise<void> {
    const batch = nextBatch();
    if (batch.length === 0 || isSending || isStopped) return;
    isSending = true;
    clearTimeout(timer);
    const answer = await post(url, body(batch));
    isSending = false;
    if (answer === 'later') {
      timer = setTimeout(() => void send(), wait);
      wait = Math.min(wait * 2, LONGEST_WAIT_MS);
      return;
    }
    wait = FIRST_WAIT_MS;
    forget(batch);
    if (answer !== 'refused' && answer.told) onTold(answer.told);
    if (kept.length) void send();
  }

  return {
    put: (item) => {
      kept.push({ id: newId(), item });
      // Signals are the first to go when a collector stays away for days; leads, events and showings stay.
      if (kept.length > MOST_KEPT)
        kept.splice(
          Math.max(
            0,
            kept.findIndex((one) => one.item.kind === 'piece'),
          ),
          1,
        );
      keep();
    },
    flush: () => void send(),
    leave: () => {
      const batch = nextBatch();
      if (batch.length && !isStopped) navigator.sendBeacon?.(url, body(batch));
    },
    stop: () => {
      isStopped = true;
      clearTimeout(timer);
    },
  };
}

/** The collector's answer; `refused` if sending it again cannot help, `later` if it can. */
async function post(url: string, text: string): Promise<BatchAnswer | 'refused' | 'later'> {
  try {
    const response = await fetch(url, { method: 'POST', body: text, keepalive: text.length < BATCH_BYTES, credentials: 'omit' });
    if (response.ok) return (await response.json()) as BatchAnswer;
    return response.status >= 500 || response.status === 429 ? 'later' : 'refused';
  } catch {
    return 'later'; // No network, or the collector is down: both pass.
  }
}
