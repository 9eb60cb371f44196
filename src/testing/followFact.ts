// Follows a fact from the page to a rehearsal, for whoever has made one up in a copy of the tree: `node followFact.mjs KEY VALUE CONDITION`, on
// a database that has its column. Prints what is met on the way.
import { judgeEveryone } from '@/core/counting/countPeople';
import { visitorAt } from '@/core/history/record';
import { peopleHoldInPage } from '@/core/people/inPage';
import type { PageCondition } from '@/core/people/condition';
import { peopleHold } from '@/core/people/condition';
import { buildColumns } from '@/core/rehearsal/columns';
import { judgeByRecords } from '@/core/rehearsal/judge';
import { rehearse } from '@/core/rehearsal/rehearse';
import { factsFrom, pretendedFacts } from '@/core/facts/facts';
import { readOpenFacts } from '@/page/facts/openFacts';
import { loadCounting } from '@/server/counting/countByLists';
import { judgeBySql } from '@/server/counting/countBySql';
import { ReadSide } from '@/server/db/readSide';
import type { StoredVisitor } from '@/server/db/visitors';
import { eachChunk, withTimelines } from '@/server/db/visitors';
import { importVisitor } from '@/server/exchange/importVisits';
import { visitorLine, visitorLineSchema } from '@/server/exchange/visitorLine';
import { AttributesOfVisitors } from '@/server/sealed/attributes';
import { SiteChunks } from '@/server/sealed/siteChunks';
import { createSite } from '@/server/db/sites';
import { collectorUnderTest, NOW, opened } from '@/server/testing/collectorUnderTest';
import { newUuid } from '@/server/testing/items';

const [key = '', value = '', given = ''] = process.argv.slice(2);
const condition = JSON.parse(given) as PageCondition;
const of = (facts: object): unknown => (facts as Record<string, unknown>)[key];

Object.defineProperty(globalThis, 'navigator', { value: { language: 'en', [key]: value }, configurable: true });
Object.defineProperty(globalThis, 'window', { value: {}, configurable: true });
const page = readOpenFacts();

const tested = await collectorUnderTest();
const db = tested.database.pool;
const { id: siteId } = tested.site;
// One browser says it, and one does not.
for (const says of [page, {}]) await tested.send([{ ...opened(), ...says }], { browser: newUuid(NOW) });

const stored: StoredVisitor[] = [];
for await (const chunk of eachChunk(db, siteId)) stored.push(...chunk);
const recorded = await withTimelines(db, siteId, stored, 0);
const segment = { lookback: 540, people: condition };
const counting = await loadCounting(db, siteId, NOW);
const listed = judgeEveryone(segment, counting);
const attributes = new AttributesOfVisitors(siteId);
await attributes.load(db);
const chunks = new SiteChunks(new ReadSide(db), siteId);
await chunks.refresh();

const lines = recorded.map((one, nth) => visitorLineSchema.parse(JSON.parse(JSON.stringify(visitorLine(one, stored[nth]?.browser ?? '')))));
const other = await createSite(db, { key: 'othersite123', name: 'Other', addresses: ['other.example'] });
for (const line of lines) await importVisitor(db, other.id, { ...line, visits: line.visits.map((visit) => ({ ...visit })) });
const imported: StoredVisitor[] = [];
for await (const chunk of eachChunk(db, other.id)) imported.push(...chunk);

const { columns, origin } = buildColumns(recorded);
const showings = rehearse({
  columns,
  judge: judgeByRecords(origin, { sets: {}, segments: {} }),
  campaigns: [{ id: 'c', place: 'overlay', rule: { people: condition, moment: { kind: 'open' } } }],
  sets: {},
});

console.log(
  JSON.stringify({
    page: of(page),
    inPage: [page, {}].map((browser) => peopleHoldInPage(condition, { facts: [], browser, now: NOW })),
    pretended: of(pretendedFacts(factsFrom(page), undefined, {})),
    rows: stored.map(({ record }) => of(record) ?? null),
    imported: imported.map(({ record }) => of(record) ?? null),
    attributes: stored.map(({ id }) => of(attributes.get(id) ?? {}) ?? null),
    sealed: stored.map(({ id }) => of(chunks.people.record(id, { withViews: true }) ?? {}) ?? null),
    evaluated: stored.map(({ record }) =>
      peopleHold(condition, { visitor: visitorAt(record, NOW), now: NOW, lookback: 540, sets: {}, segments: {} }),
    ),
    lists: stored.map(({ id }) => [false, true, null][listed[id] as number]),
    sql: (await judgeBySql(db, siteId, segment, NOW)).map(({ holds }) => holds),
    rehearsed: showings.map(({ visit }) => recorded[origin.visitor[visit] as number]?.id === stored[0]?.id),
  }),
);
await tested.end();
