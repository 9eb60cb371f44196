import type { RecordedVisitor } from '@/core/rehearsal/recorded';
import { rehearsePlainly } from '@/core/rehearsal/plain';
import { rehearse } from '@/core/rehearsal/rehearse';
import type { Rule } from '@/core/rules/schema';
import { seedDemo } from '@/demo/seed';
import { eachChunk, withTimelines } from '../db/visitors';
import { importVisitor } from '../exchange/importVisits';
import { visitorLine, visitorLineSchema } from '../exchange/visitorLine';
import type { VisitorLine } from '../exchange/visitorLine';
import { createSite } from '../db/sites';
import type { FreshDatabase } from '../testing/freshDatabase';
import { freshDatabase } from '../testing/freshDatabase';
import { loadRehearsal } from './load';

let database: FreshDatabase;

beforeAll(async () => {
  database = await freshDatabase();
  await seedDemo(database.pool, { visits: 400, addresses: ['127.0.0.1:4704'], now: Date.now(), log: () => undefined });
});
afterAll(() => database.drop());

async function exported(siteId: number): Promise<VisitorLine[]> {
  const lines: VisitorLine[] = [];
  for await (const chunk of eachChunk(database.pool, siteId)) {
    const recorded = await withTimelines(database.pool, siteId, chunk, 0);
    recorded.forEach((visitor, index) =>
      lines.push(visitorLineSchema.parse(JSON.parse(JSON.stringify(visitorLine(visitor, chunk[index]?.browser ?? ''))))),
    );
  }
  return lines;
}

/** What another program would make of an exported line. */
function fromLine({ visitor, visits, changes = [], responses = [], language, zone, team }: VisitorLine): RecordedVisitor {
  return {
    id: Number(visitor),
    record: {
      visits: visits.map(({ at, source, location, views, events }) => ({
        at,
        source,
        location,
        events,
        views: views.map(({ at: opened, url, title, labels, engaged, scroll }) => ({ at: opened, url, title, labels, engaged, scroll })),
      })),
      changes,
      responses,
      device: visits.at(-1)?.device,
      language,
      zone,
      team,
    },
    visitIds: visits.map(({ visit }) => visit),
    viewIds: visits.map(({ views }) => views.map(({ view }) => view)),
    timelines: visits.map(({ views }) => views.map(({ signals, leave, before, watched }) => ({ signals, leave, ...before, watched }))),
  };
}

const RULES: readonly Rule[] = [
  { moment: { kind: 'exit' } },
  {
    people: { kind: 'segment', id: 'seg_comparing' },
    pages: { on: [{ op: 'like', value: '/huts/**' }] },
    moment: { all: [{ kind: 'exit' }, { kind: 'delay', seconds: 10 }] },
    pacing: { again: { days: 7 } },
  },
  {
    people: {
      all: [
        { kind: 'known', is: false },
        { kind: 'location', countries: ['AT', 'DE'] },
      ],
    },
    moment: {
      any: [
        { kind: 'scroll', atLeast: 60 },
        { kind: 'idle', seconds: 15 },
      ],
    },
    pacing: { again: 'always' },
  },
  {
    people: { kind: 'response', campaign: 'camp_packing', outcome: 'shown', times: { max: 0 } },
    moment: {
      all: [
        { kind: 'clicks', atLeast: 1, of: 'visit' },
        { kind: 'delay', seconds: 5, counting: 'engaged' },
      ],
    },
  },
];

test.each(RULES)('rehearsing %j gives what the plain evaluator gives on the exported timelines', async (rule) => {
  const { columns, origin, judge, sets } = await loadRehearsal(database.pool, 1, { since: 0, until: Date.now() });
  const campaigns = [{ id: 'c', place: 'overlay' as const, rule }];
  const showings = rehearse({ columns, judge, campaigns, sets }).map(({ visit, view, at }) => {
    const from = origin.visitors.at(origin.visitor[visit] as number);
    const nth = origin.visit[visit] as number;
    return { visitor: from?.id, visit: from?.visitIds[nth], view: from?.viewIds[nth]?.[origin.view[view] as number], campaign: 'c', at };
  });
  const segments = {
    seg_comparing: {
      lookback: 30,
      people: { kind: 'viewed' as const, pages: [{ op: 'like' as const, value: '/huts/*' }], times: { min: 2 } },
    },
  };
  expect(showings.length).toBeGreaterThan(5);
  expect(showings).toEqual(rehearsePlainly((await exported(1)).map(fromLine), { campaigns, sets: {}, segments }));
});

test('what is exported and imported elsewhere is exported the same, and importing it twice changes nothing', async () => {
  const other = await createSite(database.pool, { key: 'othersite1', name: 'Other', addresses: ['other.example'] });
  const lines = await exported(1);
  for (const line of lines) await importVisitor(database.pool, other.id, line);
  const again = await exported(other.id);
  for (const line of lines.slice(0, 20)) await importVisitor(database.pool, other.id, line);
  expect(await exported(other.id)).toEqual(again);
  const comparable = ({ visits, known, traits, tags }: VisitorLine): unknown => ({ visits, known, traits, tags });
  expect(again.map(comparable)).toEqual(lines.map(comparable));
});
