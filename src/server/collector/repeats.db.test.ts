// The same things may come twice, late, in pieces and in any order: what is stored in the end is the same.
import fc from 'fast-check';
import type { CollectorUnderTest } from '../testing/collectorUnderTest';
import { collectorUnderTest, NOW, opened as open } from '../testing/collectorUnderTest';
import { newUuid, pieceItem, showingItem } from '../testing/items';

let tested: CollectorUnderTest;
beforeAll(async () => {
  tested = await collectorUnderTest();
});
afterAll(() => tested.end());

const send: CollectorUnderTest['send'] = (...given) => tested.send(...given);
const rows: CollectorUnderTest['rows'] = (...given) => tested.rows(...given);

test('the same things in any order, in any cuts and any number of times end in the same rows', async () => {
  const tables = [
    'visitor',
    'visit',
    'page_view',
    'signal_piece',
    'event',
    'showing',
    'outcome',
    'flow_step',
    'lead',
    'visitor_change',
    'fault',
  ];
  const browser = newUuid();
  const first = open({ at: NOW - 90_000, url: 'http://site.example/?utm_medium=email', language: 'de' });
  const second = open({ at: NOW - 40_000, visit: first.visit, visitAt: first.visitAt, language: 'fr', zone: 'Europe/Paris' });

  const showing = showingItem(first, { unseen: true });
  const at = (seconds: number) => NOW - 60_000 + seconds * 1000;
  const where = { view: first.view, visit: first.visit };
  const items = [
    first,
    second,
    pieceItem(first, { piece: 0, title: 'First', watched: ['.a'], cannotScroll: true }),
    pieceItem(first, { piece: 1, leave: 9000, adBlocker: true }),
    pieceItem(first, { piece: 2, title: 'Later', labels: ['x'], scroll: 80, cannotScroll: false }),
    pieceItem(second, { piece: 0, watched: ['.b', '.c'], adBlocker: false }),
    showing,
    { kind: 'outcome', showing: showing.id, outcome: 'clicked', at: at(1) },
    { kind: 'outcome', showing: showing.id, outcome: 'dismissed', how: 'escape', at: at(1) },
    { kind: 'step', showing: showing.id, message: 'second', at: at(1) },
    { kind: 'step', showing: showing.id, message: 'first', at: at(2) },
    { kind: 'sight', showing: showing.id },
    { kind: 'event', id: newUuid(), ...where, at: at(2), name: 'booking', props: { n: 1 } },
    { kind: 'person', id: newUuid(), at: at(3), email: 'old@post.example', traits: { plan: 'free' } },
    { kind: 'person', id: newUuid(), at: at(4), email: 'new@post.example', customerId: 'c1', traits: { plan: 'paid' } },
    { kind: 'mark', id: newUuid(), at: at(5), tag: 'walker', score: 3 },
    { kind: 'form', id: newUuid(), ...where, showing: showing.id, campaign: 'camp_1', at: at(6), url: first.url, fields: { a: 'b' } },
    { kind: 'fault', id: newUuid(), at: at(7), entry: 'show', message: 'what' },
  ];
  const dump = async () =>
    Promise.all(
      tables.map(async (table) => [
        table,
        (
          await rows(
            // There is one visitor, whatever their number.
            `select to_jsonb(t) - 'touched_at' - 'last_at' - 'received_at' - '${table === 'visitor' ? 'id' : 'visitor_id'}' as row from ${table} t where site_id = $1 order by to_jsonb(t)::text`,
            tested.site.id,
          )
        ).map(({ row }) => row),
        table === 'visit' ? await rows(`select ms(last_at)::float8 as last from visit where site_id = $1`, tested.site.id) : [],
      ]),
    );
  const clear = () =>
    tested.database.pool.query(
      `delete from signal_piece; delete from page_view; delete from outcome; delete from lead; delete from showing; delete from event; delete from fault; delete from fault_counted; delete from visitor`,
    );
  /** Until each has been taken once; what comes before what it belongs to is refused, and is sent again. */
  const deliver = async (order: readonly number[], cuts: readonly number[]) => {
    const missing = new Set(items.keys());
    let turn = 0;
    for (let from = 0; missing.size > 0; turn++) {
      const size = cuts[turn % cuts.length] ?? 1;
      const batch = Array.from({ length: size }, (_, nth) => order[(from + nth) % order.length] as number);
      from += size;
      const { answer } = await send(
        batch.map((nth) => items[nth]),
        { browser },
      );
      answer.items.forEach((item, nth) => item.ok && missing.delete(batch[nth] as number));
      expect(turn).toBeLessThan(400);
    }
  };
  await clear();
  await deliver([...items.keys()], [items.length]);
  const expected = await dump();
  expect(await rows(`select unseen from showing where id = $1`, showing.id)).toEqual([{ unseen: false }]);
  await fc.assert(
    fc.asyncProperty(
      fc.shuffledSubarray([...items.keys(), ...items.keys()], { minLength: items.length * 2 }),
      fc.array(fc.integer({ min: 1, max: 9 }), { minLength: 1, maxLength: 5 }),
      async (order, cuts) => {
        await clear();
        await deliver(order, cuts);
        expect(await dump()).toEqual(expected);
      },
    ),
    { numRuns: 25 },
  );
});
