import type { PeopleCondition } from '@/core/people/condition';
import { answerEverywhere, packAnswers } from '@/core/rehearsal/answers';
import { buildColumns } from '@/core/rehearsal/columns';
import { encodeColumns } from '@/core/rehearsal/encode';
import { gzip } from '@/core/rehearsal/gzip';
import { judgeByRecords } from '@/core/rehearsal/judge';
import type { RecordedVisitor } from '@/core/rehearsal/recorded';
import type { RehearsalQuestion, Rehearsed } from '@/core/rehearsal/rehearsed';
import type { Server, Told } from './rehearser';
import { Beyond, Rehearser } from './rehearser';

const AT = Date.parse('2026-11-20T10:00:00Z');
const visitIds = ['019a0000-0000-7000-8000-0000000000a1', '019a0000-0000-7000-8000-0000000000b2'];
/** Two visitors, one of them known, each of whom leaves a page after a minute. */
const visitors: RecordedVisitor[] = visitIds.map((visitId, nth) => ({
  id: nth + 1,
  record: {
    visits: [{ at: AT + nth, views: [{ at: AT + nth, url: 'https://site.example/huts', engaged: 5, scroll: 50 }], events: [] }],
    changes: nth ? [{ at: AT - 5, kind: 'identity', key: 'email', value: 'a@b.example' }] : [],
    responses: [],
  },
  visitIds: [visitId],
  viewIds: [['w']],
  timelines: [[{ signals: [{ t: 59_000, s: 'exit' }], leave: 60_000 }]],
}));
const known: PeopleCondition = { kind: 'known', is: true };
const question = (people: PeopleCondition | undefined, more: Partial<RehearsalQuestion> = {}): RehearsalQuestion => ({
  campaign: 'c',
  place: 'overlay',
  rule: { ...(people ? { people } : {}), moment: { kind: 'exit' } },
  days: 30,
  withOthers: false,
  ...more,
});

/** The studio's side, over the visitors above; what it is asked is kept. */
function studio(change: Partial<Told> = {}) {
  const { columns, origin } = buildColumns(visitors);
  const judge = judgeByRecords(origin, { sets: {}, segments: {} });
  const asked: string[] = [];
  let snapshot = `30-${AT}`;
  let told = { known: 'v1', sets: {}, budget: {}, campaigns: [], ...change };
  const server: Server = {
    visits: async () => {
      asked.push(`visits ${snapshot}`);
      const packed = await encodeColumns(columns);
      const ids = await gzip([Buffer.from(visitIds.join('').replaceAll('-', ''), 'hex')]);
      const length = Buffer.alloc(4);
      length.writeUInt32BE(packed.length);
      return { snapshot, bytes: new Uint8Array(Buffer.concat([length, packed, ids])) };
    },
    answers: async ({ snapshot: of, conditions }) => {
      asked.push(`${conditions.length} of ${of}`);
      if (of !== snapshot) return { ...told, isHere: false, answers: [] };
      const answers = conditions.map(async (condition) => {
        const steps = answerEverywhere(condition, { columns, judge });
        for (;;) {
          const { done, value } = steps.next();
          if (done) return value ? Buffer.from(await packAnswers(value)).toString('base64') : null;
        }
      });
      return { ...told, isHere: true, answers: await Promise.all(answers) };
    },
  };
  return { server, asked, moveOn: (next: string) => (snapshot = next), tell: (more: Partial<Told>) => (told = { ...told, ...more }) };
}

async function last(rehearser: Rehearser, asked: RehearsalQuestion): Promise<Rehearsed | undefined> {
  let report: Rehearsed | undefined;
  for await (const stage of rehearser.rehearse(asked, new AbortController().signal)) report = stage ?? report;
  return report;
}

test('a rule is rehearsed over the visits that were sent; a condition is asked once', async () => {
  const { server, asked } = studio();
  const rehearser = new Rehearser(server);
  const everyone = await last(rehearser, question(undefined));
  expect(everyone).toMatchObject({ sure: 2, visits: 2, visitors: 2, asOf: AT });
  expect(everyone?.showings.map(({ visit, at }) => [visit, at - AT])).toEqual([
    [visitIds[1], 59_001],
    [visitIds[0], 59_000],
  ]);
  const members = await last(rehearser, question(known));
  expect(members?.showings.map(({ visit }) => visit)).toEqual([visitIds[1]]);
  expect(members?.steps.map(({ left, go }) => [left, go.map(({ visit }) => visit)])).toEqual([
    [2, []],
    [1, [visitIds[0]]],
    [1, []],
    [1, []],
  ]);
  await last(rehearser, question(known, { rule: { people: known, moment: { kind: 'delay', seconds: 3 } } }));
  expect(asked).toEqual([`visits 30-${AT}`, `0 of 30-${AT}`, `1 of 30-${AT}`]);
});

test('what the server has newer visits of is fetched anew, and the question answered over those', async () => {
  const { server, asked, moveOn } = studio();
  const rehearser = new Rehearser(server);
  await last(rehearser, question(undefined));
  moveOn(`30-${AT + 1}`);
  expect(await last(rehearser, question(known))).toMatchObject({ sure: 1, asOf: AT + 1 });
  expect(asked.slice(2)).toEqual([`1 of 30-${AT}`, `visits 30-${AT + 1}`, `1 of 30-${AT + 1}`]);
});

test('when a segment or a page set has changed, everything is asked again', async () => {
  const { server, asked, tell } = studio();
  const rehearser = new Rehearser(server);
  await last(rehearser, question(known));
  tell({ known: 'v2' });
  const device: PeopleCondition = { kind: 'device', category: ['phone'] };
  await last(rehearser, question(undefined, { rule: { people: { any: [known, device] }, moment: { kind: 'exit' } } }));
  expect(asked.slice(2)).toEqual([`1 of 30-${AT}`, `1 of 30-${AT}`]);
});

test('a question is lacking until its visits and its answers are there', async () => {
  const rehearser = new Rehearser(studio().server);
  const prepare = (asked: RehearsalQuestion) => rehearser.prepare(asked, new AbortController().signal);
  expect(rehearser.lacks(question(undefined))).toBe(true);
  await prepare(question(undefined));
  expect([question(undefined), question(known), question(undefined, { days: 7 })].map((one) => rehearser.lacks(one))).toEqual([
    false,
    true,
    true,
  ]);
  await prepare(question(known));
  expect(rehearser.lacks(question(known))).toBe(false);
});

test('it notices, at most every ten seconds, that a segment was saved or that there are newer visits', async () => {
  let now = 0;
  const clock = jest.spyOn(performance, 'now').mockImplementation(() => now);
  const { server, tell, moveOn } = studio();
  const rehearser = new Rehearser(server);
  expect(await rehearser.hasChanged()).toBe(false);
  await last(rehearser, question(known));
  tell({ known: 'v2' });
  expect(await rehearser.hasChanged()).toBe(false);
  now += 11_000;
  expect(await rehearser.hasChanged()).toBe(true);
  await last(rehearser, question(known));
  now += 11_000;
  expect(await rehearser.hasChanged()).toBe(false);
  moveOn(`30-${AT + 1}`);
  now += 11_000;
  expect(await rehearser.hasChanged()).toBe(true);
  expect(rehearser.lacks(question(known))).toBe(true);
  clock.mockRestore();
});

test('among others, the live ones take their places and their budget', async () => {
  const campaigns = [{ id: 'first', isLive: true, place: 'overlay' as const, rule: { moment: { kind: 'open' as const } } }];
  const { server } = studio({ campaigns, budget: { perVisit: 1 } });
  const rehearser = new Rehearser(server);
  expect(await last(rehearser, question(undefined, { withOthers: true }))).toMatchObject({
    sure: 0,
    collisions: [{ campaign: 'first', alone: 2, together: 2 }],
  });
  expect(await last(rehearser, question(undefined))).toMatchObject({ sure: 2, collisions: [] });
});

test('what changes at instants that nobody can foretell, and too many visits, are left to the server', async () => {
  const { server } = studio();
  const daysAgo: PeopleCondition = { kind: 'trait', key: 'born', test: { op: 'daysAgo', max: 3 } };
  await expect(last(new Rehearser(server), question(daysAgo))).rejects.toThrow(Beyond);
  const tooMany = new Rehearser({ ...server, visits: () => Promise.resolve(undefined) });
  await expect(last(tooMany, question(undefined))).rejects.toThrow(Beyond);
});

test('visits that could not be fetched are tried again with the next question', async () => {
  const { server } = studio();
  let isAway = true;
  const rehearser = new Rehearser({
    ...server,
    visits: (days) => (isAway ? Promise.reject(new Error('away')) : server.visits(days)),
  });
  await expect(last(rehearser, question(undefined))).rejects.toThrow('away');
  isAway = false;
  expect(await last(rehearser, question(undefined))).toMatchObject({ sure: 2 });
});
