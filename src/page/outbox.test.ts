import type { SentItem } from '@/core/wire/items';
import { openOutbox } from './outbox';
import type { Store } from './store';

const outcome = (showing: string): SentItem => ({ kind: 'outcome', showing, outcome: 'dismissed', at: 1 });

interface Collector {
  readonly received: string[][];
  answer: 'ok' | 'down' | 'refused';
}

/** A collector behind `fetch` that can be switched off. */
function fakeCollector(): Collector {
  const collector: Collector = { received: [], answer: 'ok' };
  globalThis.fetch = (async (_url: string, { body }: { body: string }) => {
    if (collector.answer === 'down') throw new TypeError('Failed to fetch');
    const { items } = JSON.parse(body) as { items: { showing: string }[] };
    collector.received.push(items.map(({ showing }) => showing));
    return collector.answer === 'ok' ? Response.json({ items: [], now: 0 }) : new Response('{}', { status: 403 });
  }) as unknown as typeof fetch;
  return collector;
}

function openWith(kept: Map<string, unknown>): ReturnType<typeof openOutbox> {
  let next = 0;
  const store: Store = {
    read: <T>(name: string) => kept.get(name) as T | undefined,
    write: (name, value) => void kept.set(name, JSON.parse(JSON.stringify(value)) as unknown),
    clear: () => undefined,
    onOtherTab: () => () => undefined,
  };
  return openOutbox({
    url: 'http://collector/c',
    siteKey: 'k',
    browser: 'b',
    store,
    newId: () => `${kept.size}-${next++}`,
    about: () => ({}),
    onAnswer: () => undefined,
  });
}

const settle = (): Promise<void> => jest.advanceTimersByTimeAsync(0);

beforeEach(() => jest.useFakeTimers());
afterEach(() => jest.useRealTimers());

test('items go out in order and are forgotten once acknowledged', async () => {
  const collector = fakeCollector();
  const kept = new Map<string, unknown>();
  const outbox = openWith(kept);
  outbox.put(outcome('1'));
  outbox.put(outcome('2'));
  outbox.flush();
  await settle();
  expect(collector.received).toEqual([['1', '2']]);
  expect(kept.get('outbox')).toEqual([]);
});

test('a collector that is down is tried again, later and later, and nothing is lost', async () => {
  const collector = fakeCollector();
  collector.answer = 'down';
  const kept = new Map<string, unknown>();
  const outbox = openWith(kept);
  outbox.put(outcome('1'));
  outbox.flush();
  await jest.advanceTimersByTimeAsync(10_000);
  expect(kept.get('outbox')).toHaveLength(1);
  collector.answer = 'ok';
  outbox.put(outcome('2'));
  await jest.advanceTimersByTimeAsync(60_000);
  expect(collector.received).toEqual([['1', '2']]);
});

test('what a page that is gone left behind is sent by the next one', async () => {
  const collector = fakeCollector();
  collector.answer = 'down';
  const kept = new Map<string, unknown>();
  const first = openWith(kept);
  first.put(outcome('1'));
  first.flush();
  await settle();
  first.stop();
  collector.answer = 'ok';
  openWith(kept).flush();
  await settle();
  expect(collector.received).toEqual([['1']]);
});

test('what is refused is not sent again', async () => {
  const collector = fakeCollector();
  collector.answer = 'refused';
  const kept = new Map<string, unknown>();
  const outbox = openWith(kept);
  outbox.put(outcome('1'));
  outbox.flush();
  await jest.advanceTimersByTimeAsync(120_000);
  expect(collector.received).toHaveLength(1);
  expect(kept.get('outbox')).toEqual([]);
});

test('a collector that names a time to wait is left alone until then', async () => {
  let asked = 0;
  globalThis.fetch = async () => {
    asked++;
    return new Response('{}', { status: 503, headers: { 'retry-after': '20' } });
  };
  const outbox = openWith(new Map());
  outbox.put(outcome('1'));
  outbox.flush();
  await jest.advanceTimersByTimeAsync(19_000);
  // Not even for what is wanted at once.
  outbox.put(outcome('2'));
  outbox.flush();
  outbox.ask();
  expect(asked).toBe(1);
  await jest.advanceTimersByTimeAsync(2000);
  expect(asked).toBe(2);
});

test('where there is no beacon, what is left goes by a request that outlives the page', async () => {
  const collector = fakeCollector();
  const outbox = openWith(new Map());
  outbox.put(outcome('1'));
  outbox.leave();
  await settle();
  expect(collector.received).toEqual([['1']]);
});

test('a collector that stays away costs signals before it costs leads', () => {
  fakeCollector().answer = 'down';
  const kept = new Map<string, unknown>();
  const outbox = openWith(kept);
  const piece = (number: number): SentItem => ({
    kind: 'piece',
    view: 'v',
    piece: number,
    signals: [],
    engaged: 0,
    scroll: 0,
    leave: 0,
  });
  outbox.put(outcome('lead'));
  for (let number = 0; number < 500; number++) outbox.put(piece(number));
  const left = kept.get('outbox') as { item: SentItem }[];
  expect(left).toHaveLength(400);
  expect(left[0]?.item.kind).toBe('outcome');
});

test('two tabs of one site keep what the other has still to send', async () => {
  const collector = fakeCollector();
  collector.answer = 'down';
  const kept = new Map<string, unknown>();
  const [one, two] = [openWith(kept), openWith(kept)];
  one.put(outcome('of the first'));
  two.put(outcome('of the second'));
  expect(kept.get('outbox')).toHaveLength(2);
  collector.answer = 'ok';
  one.flush();
  await settle();
  expect((kept.get('outbox') as { item: { showing: string } }[]).map(({ item }) => item.showing)).toEqual(['of the second']);
});

test('what the collector fails at stands back, so that what is behind it goes', async () => {
  const received: string[] = [];
  globalThis.fetch = (async (_url: string, { body }: { body: string }) => {
    const names = (JSON.parse(body) as { items: { showing: string }[] }).items.map(({ showing }) => showing);
    if (names.includes('poison')) return new Response('{}', { status: 500 });
    received.push(...names);
    return Response.json({ items: [], now: 0 });
  }) as unknown as typeof fetch;
  const kept = new Map<string, unknown>();
  const outbox = openWith(kept);
  for (const name of ['poison', 'a', 'b']) outbox.put(outcome(name));
  outbox.flush();
  await jest.advanceTimersByTimeAsync(20_000);
  expect(received).toEqual(['a', 'b']);
  expect(kept.get('outbox')).toHaveLength(1);
});
