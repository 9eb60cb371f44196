import { promisify } from 'node:util';
import { gunzip } from 'node:zlib';
import fc from 'fast-check';
import { judgeEveryone } from '../counting/countPeople';
import { Standing } from '../counting/standing';
import type { VisitorRecord } from '../history/record';
import { visitorAt } from '../history/record';
import type { Visitor } from '../history/visitor';
import { byteOf } from '../logic/truth';
import type { PeopleCondition } from '../people/condition';
import { PEOPLE_KINDS, peopleHold } from '../people/condition';
import type { SegmentBody } from '../people/subject';
import { buildColumns } from '../rehearsal/columns';
import { judgeByRecords } from '../rehearsal/judge';
import { rehearsePlainly } from '../rehearsal/plain';
import type { RecordedTimeline, RecordedVisitor } from '../rehearsal/recorded';
import { rehearse } from '../rehearsal/rehearse';
import { budget, campaigns, recorded } from '../rehearsal/testing/recorded';
import { people as peopleArbitrary } from '../rules/testing/arbitrary';
import { DAY_MS } from '../time/day';
import { compileTerms, TERM_KINDS } from '../visits/filter';
import type { Chunk } from './chunk';
import { buildChunk, compareVisitIds, Dictionaries, visitIdOf } from './chunk';
import { findVisits } from './findVisits';
import { packChunk, unpackHistory, unpackTimelines } from './pack';
import type { Attributes } from './people';
import { People } from './people';
import { postingsOfChunk } from './postings';
import { sliceByDay } from './slice';

const known = { sets: {}, segments: {} };
/** Some visitors with numbers of their own, everything of theirs in the order in which it came on record. */
const everybody = fc.uniqueArray(recorded, { minLength: 1, maxLength: 4, selector: ({ id }) => id }).map((visitors) =>
  visitors
    .map((visitor) => ({
      ...visitor,
      record: { ...visitor.record, responses: [...visitor.record.responses].sort((a, b) => a.at - b.at) },
    }))
    .sort((a, b) => a.id - b.id),
);

const attributes = new Map<string, Attributes>();

/** The same object for those who are alike, as the server has them. */
const attributesIn = (visitors: readonly RecordedVisitor[]) => (id: number) => {
  const record = visitors.find((visitor) => visitor.id === id)?.record;
  if (!record) return undefined;
  const { visits: _visits, changes: _changes, responses: _responses, ...own } = record;
  const key = JSON.stringify(own);
  if (!attributes.has(key)) attributes.set(key, own);
  return attributes.get(key);
};

async function inChunks(visitors: readonly RecordedVisitor[]): Promise<{ people: People; chunks: Chunk[]; dictionaries: Dictionaries }> {
  const dictionaries = new Dictionaries();
  const chunks: Chunk[] = [];
  for (const [dayStart, slices] of sliceByDay(visitors)) {
    // Sealed by somebody with dictionaries of their own.
    const own = new Dictionaries();
    const { history, timelines } = await packChunk(buildChunk(dayStart, slices, own), own);
    const chunk = await unpackHistory(history, dictionaries);
    chunk.timelines = await unpackTimelines(timelines, dictionaries);
    chunks.push(chunk);
  }
  const people = new People(
    chunks.map((chunk) => ({ chunk })),
    dictionaries,
    attributesIn(visitors),
  );
  return { people, chunks, dictionaries };
}

const plainRecord = ({ visits, ...rest }: VisitorRecord) => ({
  ...rest,
  visits: visits.map(({ at, source, location, weather, views, events }) => ({
    at,
    source,
    location,
    weather,
    events: events.map((event) => ({ ...event, props: JSON.parse(JSON.stringify(event.props)) as unknown })),
    views: views.map((view) => ({ ...view, engaged: Math.round(view.engaged * 1000) / 1000 })),
  })),
});

test('histories come out of chunks as they went in, whoever packed them', async () => {
  await fc.assert(
    fc.asyncProperty(everybody, async (visitors) => {
      const { people } = await inChunks(visitors);
      for (const { id, record, visitIds, timelines } of visitors) {
        const found = people.recorded(id);
        expect(found && plainRecord(found.record)).toEqual(plainRecord(record));
        expect(found?.visitIds).toEqual(visitIds);
        const marks = (played: readonly (readonly RecordedTimeline[] | undefined)[] = []) =>
          played.flatMap((views) => views ?? []).map(({ hidden, watched }) => [hidden ?? false, watched]);
        expect(marks(found?.timelines)).toEqual(marks(timelines));
        expect(people.record(id, { withViews: false })?.visits.every(({ views }) => views.length === 0)).toBe(true);
      }
      expect(people.record(100, { withViews: true })).toBeUndefined();
    }),
    { numRuns: 100 },
  );
});

test('what is unpacked keeps nothing in memory but its columns, whoever takes gzip off', async () => {
  await fc.assert(
    fc.asyncProperty(everybody, async (visitors) => {
      const dictionaries = new Dictionaries();
      for (const [dayStart, slices] of sliceByDay(visitors)) {
        const { history, timelines } = await packChunk(buildChunk(dayStart, slices, dictionaries), dictionaries);
        const inflate = (bytes: Uint8Array): Promise<Uint8Array> => promisify(gunzip)(bytes);
        const read = await unpackHistory(history, dictionaries, inflate);
        for (const column of Object.values({ ...read, ...(await unpackTimelines(timelines, dictionaries, inflate)) }))
          if (ArrayBuffer.isView(column)) expect(column.buffer.byteLength).toBe(column.byteLength);
      }
    }),
    { numRuns: 20 },
  );
});

test('a rehearsal over chunks gives the showings that the plain interpreter gives', async () => {
  let shown = 0;
  await fc.assert(
    fc.asyncProperty(everybody, campaigns, budget, fc.boolean(), async (visitors, rules, limit, unknownShows) => {
      const { people } = await inChunks(visitors);
      const { columns, origin } = people.columns({ since: 0 });
      const judge = judgeByRecords(origin, known);
      const showings = rehearse({ columns, judge, campaigns: rules, budget: limit, sets: {}, unknownShows });
      const named = showings.map(({ campaign, visit, view, at }) => {
        const from = visitors.find(({ id }) => id === columns.visitor[origin.visitor[visit] as number]);
        const nth = origin.visit[visit] as number;
        return { visitor: from?.id, visit: from?.visitIds[nth], view: from?.viewIds[nth]?.[origin.view[view] as number], campaign, at };
      });
      shown += named.length;
      expect(named).toEqual(rehearsePlainly(visitors, { ...known, campaigns: rules, budget: limit, unknownShows }));
    }),
    { numRuns: 300 },
  );
  expect(shown).toBeGreaterThan(50);
});

test('columns of some days are those of the visits that began in them', async () => {
  await fc.assert(
    fc.asyncProperty(everybody, fc.nat(60), async (visitors, ago) => {
      const last = Math.max(...visitors.flatMap(({ record }) => record.visits.map(({ at }) => at)));
      const since = last - ago * DAY_MS;
      const { people } = await inChunks(visitors);
      const cut = visitors
        .map((visitor) => ({
          ...visitor,
          timelines: visitor.timelines.map((played, nth) => ((visitor.record.visits[nth]?.at ?? 0) >= since ? played : undefined)),
        }))
        .filter(({ timelines }) => timelines.some((played) => played !== undefined));
      const [met, expected] = [people.columns({ since }).columns, buildColumns(cut).columns];
      const { pages, arguments: args, watchLists, devices, channels, towns, ...numbers } = expected;
      for (const name of Object.keys(numbers) as (keyof typeof numbers)[])
        if (!['page', 'argument', 'watched', 'device', 'channel', 'town'].includes(name))
          expect([name, met[name]]).toEqual([name, numbers[name]]);
      expect(Array.from(met.page, (page) => met.pages[page])).toEqual(Array.from(expected.page, (page) => pages[page]));
      expect(Array.from(met.watched, (nth) => met.watchLists[nth])).toEqual(Array.from(expected.watched, (nth) => watchLists[nth]));
      expect(Array.from(met.town, (town) => met.towns[town])).toEqual(Array.from(expected.town, (town) => towns[town]));
      expect([met.devices, met.channels].map((list) => [...list].sort())).toEqual([devices, channels].map((list) => [...list].sort()));
      expect(met.arguments.length).toBe(args.length);
    }),
    { numRuns: 100 },
  );
});

/** Visitors of whom some are alike in something: what is said of one must not be said of another who differs in what was asked. */
const alike = fc
  .tuple(
    everybody,
    fc.record({ attributes: fc.boolean(), source: fc.boolean(), place: fc.boolean(), weather: fc.boolean(), nothing: fc.boolean() }),
  )
  .map(([visitors, same]) =>
    visitors.map((visitor) => {
      const { visits, changes, responses, ...own } = visitor.record;
      // Where visitors are, and the weather there, are facts of their visits.
      const [here, there] = [own as Pick<Visitor, 'location' | 'weather'>, visitors[0]?.record as Pick<Visitor, 'location' | 'weather'>];
      return {
        ...visitor,
        record: {
          ...(same.attributes ? {} : own),
          visits: visits.map((visit, nth) => ({
            ...visit,
            ...(same.source ? { source: visitors[0]?.record.visits[0]?.source } : {}),
            location: (same.place ? there : here).location,
            weather: nth > 0 || same.weather ? there.weather : here.weather,
          })),
          changes: same.nothing ? [] : changes,
          responses: same.nothing ? [] : responses,
        },
      };
    }),
  );

const later = fc.array(fc.integer({ min: 0, max: 40 * 24 }), { minLength: 2, maxLength: 5 });

/** Judges everybody at rising instants, what stands being kept, and compares with the evaluator. Gives the values met. */
async function expectStanding(visitors: readonly RecordedVisitor[], body: SegmentBody, hours: readonly number[]): Promise<number[]> {
  const { people, chunks, dictionaries } = await inChunks(visitors);
  const first = Math.min(...visitors.flatMap(({ record }) => record.visits.map(({ at }) => at)));
  const input = {
    days: chunks.flatMap((chunk) => postingsOfChunk({ chunk }, () => true)),
    pages: dictionaries.pages.list,
    visits: people.visits,
    histories: people,
    standing: new Standing(),
    known,
  };
  return [...hours]
    .sort((a, b) => a - b)
    .flatMap((hour) => {
      const now = first + hour * 3_600_000 + 7;
      const values = judgeEveryone(body, { ...input, now });
      return visitors.map(({ id, record }) => {
        const visitor = visitorAt(record, now);
        // What is happening on the current page is a moment: its measures are still 0 in the history.
        const current = visitor.visits.at(-1);
        const views = current?.views.map((view, nth) => (nth === current.views.length - 1 ? { ...view, engaged: 0, scroll: 0 } : view));
        const subject = { ...visitor, visits: current ? [...visitor.visits.slice(0, -1), { ...current, views: views ?? [] }] : [] };
        const value = visitor.visits.length
          ? byteOf(peopleHold(body.people, { visitor: subject, now, lookback: body.lookback, ...known }))
          : 0;
        expect([id, values[id]]).toEqual([id, value]);
        return value;
      });
    });
}

test('what stands of everybody is what the evaluator says of each, at instant after instant', async () => {
  const met = new Set<number>();
  await fc.assert(
    fc.asyncProperty(alike, peopleArbitrary, fc.integer({ min: 1, max: 60 }), later, async (visitors, people, lookback, hours) => {
      for (const value of await expectStanding(visitors, { lookback, people }, hours)) met.add(value);
    }),
    { numRuns: 200 },
  );
  expect([...met].sort()).toEqual([0, 1, 2]);
});

const OF_RECORDS = Object.values(PEOPLE_KINDS).filter(({ counting }) => counting.by === 'record');

test.each(OF_RECORDS.map((kind) => [kind.kind, kind] as const))(
  'so is each kind that is judged by a part of what is on record: %s',
  async (_name, kind) => {
    await fc.assert(
      fc.asyncProperty(alike, kind.example(fc) as fc.Arbitrary<PeopleCondition>, later, async (visitors, people, hours) => {
        await expectStanding(visitors, { lookback: 30, people }, hours);
      }),
      { numRuns: 60 },
    );
  },
);

test('a response within the visit is none of the next visit', async () => {
  const at = Date.parse('2026-11-01T10:00:00Z');
  const visit = (hours: number) => ({ at: at + hours * 3_600_000, views: [], events: [] });
  const visitor: RecordedVisitor = {
    id: 1,
    record: { visits: [visit(0), visit(50)], changes: [], responses: [{ campaign: 'c1', outcome: 'dismissed', at: at + 5 }] },
    visitIds: ['00000000-0000-7000-8000-000000000001', '00000000-0000-7000-8000-000000000002'],
    viewIds: [[], []],
    timelines: [[], []],
  };
  const people = { kind: 'response' as const, campaign: 'c1', outcome: 'dismissed' as const, within: 'visit' as const };
  expect(await expectStanding([visitor], { lookback: 30, people }, [0, 49, 50])).toEqual([1, 1, 0]);
});

test('visits are found by columns as by histories', async () => {
  const values: Record<(typeof TERM_KINDS)[number], string[]> = {
    page: ['/huts/*', '/**', '/book', '/nowhere'],
    segment: ['odd', 'nobody'],
    source: ['search', 'DIRECT', 'news', 'spring'],
    device: ['phone', 'desktop'],
    place: ['at', 'Graz', 'DE'],
    outcome: ['shown', 'converted:c1'],
    longer: ['0', '30'],
    shorter: ['1', '900'],
    who: ['{"kind":"visits","times":{"min":2}}'],
  };
  const term = fc.constantFrom(...TERM_KINDS).chain((kind) => fc.constantFrom(...values[kind]).map((value) => ({ kind, value })));
  let met = 0;
  await fc.assert(
    fc.asyncProperty(everybody, fc.array(term, { maxLength: 4 }), async (visitors, terms) => {
      const { people, dictionaries } = await inChunks(visitors);
      const isIn = (segment: string, visitor: number): boolean => segment === 'odd' && visitor % 2 === 1;
      const asOf = visitors[0]?.record.visits.at(-1)?.at ?? 0;
      const meets = compileTerms(terms, isIn);
      const expected = visitors
        .flatMap(({ id }) => {
          const visitor = people.recorded(id) as RecordedVisitor;
          return visitor.record.visits.flatMap(({ at }, nth) =>
            at <= asOf && meets(visitor, nth) ? [{ at, id: visitor.visitIds[nth] }] : [],
          );
        })
        .sort((a, b) => b.at - a.at || ((a.id ?? '') < (b.id ?? '') ? -1 : 1));
      const found = findVisits(people, dictionaries, { terms, asOf, isIn, known });
      met += found.visits.length;
      expect(Array.from(found.visits, (visit) => people.visitId(visit))).toEqual(expected.map(({ id }) => id));
    }),
    { numRuns: 200 },
  );
  expect(met).toBeGreaterThan(100);
});

test('ids of visits are in the order of their texts', () => {
  const alike = fc.uint8Array({ minLength: 16, maxLength: 16 });
  fc.assert(
    fc.property(alike, alike, fc.nat({ max: 16 }), (one, other, common) => {
      const visitId = Uint8Array.from([...one, ...one.slice(0, common), ...other.slice(common)]);
      const [first, second] = [visitIdOf({ visitId }, 0), visitIdOf({ visitId }, 1)];
      expect(Math.sign(compareVisitIds(visitId, 0, visitId, 1))).toBe(first < second ? -1 : first > second ? 1 : 0);
    }),
  );
});

test('a visitor read anew stands in the place of the old one, and one who was erased is nobody', async () => {
  const visitors = fc.sample(everybody, { numRuns: 40, seed: 7 }).find((some) => some.length > 2) as RecordedVisitor[];
  const [changed, erased] = visitors as [RecordedVisitor, RecordedVisitor];
  const { chunks, dictionaries } = await inChunks(visitors);
  const [chunk] = chunks as [Chunk];
  const day = chunk.dayStart;
  const slice = { visitor: changed.id, visits: [], changes: [{ at: day, kind: 'tag' as const, key: 'new', value: true }], responses: [] };
  const people = new People(
    [...chunks.map((one) => ({ chunk: one, without: new Set([changed.id]) })), { chunk: buildChunk(day, [slice], dictionaries) }],
    dictionaries,
    (id) => (id === erased.id ? undefined : attributesIn(visitors)(id)),
  );
  expect(people.record(changed.id, { withViews: true })).toMatchObject({ visits: [], changes: slice.changes });
  expect(people.isOnRecord(erased.id)).toBe(false);
  expect([...people.visits.visitors]).not.toContain(erased.id);
});

test('damaged or foreign bytes are refused', async () => {
  const own = new Dictionaries();
  const packed = await packChunk(buildChunk(0, [], own), own);
  await expect(unpackHistory(packed.history.subarray(0, 20), new Dictionaries())).rejects.toThrow();
  await expect(unpackTimelines(Uint8Array.of(1, 2, 3), new Dictionaries())).rejects.toThrow();
  const chunk = await unpackHistory(packed.history, new Dictionaries());
  await expect(packChunk(chunk, own)).rejects.toThrow('timelines: expected');
  expect(() =>
    buildChunk(
      0,
      [{ visitor: 1, visits: [{ id: 'x', visit: { at: 0, views: [], events: [] }, timelines: [] }], changes: [], responses: [] }],
      own,
    ),
  ).toThrow('met "x", expected a UUID');
});
