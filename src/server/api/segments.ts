import type { StoredSegment } from '../db/segments';
import type { LastAnswers } from '../db/lastAnswers';
import { z } from 'zod';
import { issueWords } from '@/core/parsing/parse';
import type { Issue } from '@/core/parsing/parse';
import { MEMBER_CHOICES, MEMBER_COLUMNS } from '@/core/people/memberColumns';
import type { MemberChoice } from '@/core/people/memberColumns';
import { referencesIn } from '@/core/rules/references';
import { inOrderOfUse, withSegmentIds } from '@/core/rules/rename';
import { nameSchema, segmentSchema } from '@/core/rules/schema';
import { analyse } from '../analysis/analyse';
import { newId } from '../db/ids';
import { keepAnswer, segmentKey } from '../db/lastAnswers';
import { withTransaction } from '../db/pool';
import type { Queryable } from '../db/queryable';
import { findSegment, insertSegment, listSegments, updateSegment } from '../db/segments';
import { poolOf, readingOf } from '../db/sharedPool';
import { listVisits } from '../db/visits';
import { pageSets, places } from '../db/vocabulary';
import { memberColumnsSchema, segmentMembers } from '../exchange/members';
import { csvResponse, download } from '../http/downloads';
import { Refused } from '../http/refused';
import { oneOrAllSchema } from '../http/requests';
import { and, NAME, ref, REVISION } from '../openapi/shapes';
import { refuseCircle, refuseCircleIn } from '../segments/circle';
import { countSegments } from '../segments/sizes';
import { usersOf } from '../segments/users';
import { edited } from './edited';
import { endpoint, file, lines } from './endpoint';

const changedSegmentSchema = segmentSchema.extend({ name: nameSchema, revision: z.int().min(1) });

const oneSchema = segmentSchema.extend({ name: nameSchema });

const importSchema = z.union([oneSchema.transform((one) => [one]), z.array(oneSchema).min(1).max(500)]);

async function bringIn(tx: Queryable, siteId: number, given: z.infer<typeof importSchema>): Promise<{ id: string; name: string }[]> {
  const here = await listSegments(tx, siteId);
  const sets = await pageSets.list(tx, siteId);
  const spots = await places.list(tx, siteId);
  const ids = new Map(given.flatMap(({ id }) => (id === undefined ? [] : [[id, newId('seg')] as const])));
  const known = {
    segments: new Set([...here.map(({ id }) => id), ...ids.keys()]),
    sets: new Set(sets.map(({ id }) => id)),
    places: new Set(spots.map(({ id }) => id)),
  };
  const issues = given.flatMap(({ people }, index): Issue[] =>
    (['segments', 'sets', 'places'] as const).flatMap((kind) =>
      referencesIn(people)
        [kind].filter((id) => !known[kind].has(id))
        .map((id) => ({
          code: 'import.unknown',
          path: [index, 'people'],
          met: id,
          expected: `the id of one of the ${WORDS[kind]} of this site`,
        })),
    ),
  );
  if (issues.length) throw new Refused(422, 'body.shape', issues.slice(0, 5).map(issueWords).join('; '), issues);
  const taken = new Set(here.map(({ name }) => name));
  const coming = inOrderOfUse(given, (one) => referencesIn(one.people).segments).map(({ id, name, lookback, people }) => ({
    id: (id === undefined ? undefined : ids.get(id)) ?? newId('seg'),
    name: unusedName(name.slice(0, 190), taken),
    lookback,
    people: withSegmentIds(people, ids),
  }));
  const bodies = Object.fromEntries([...here, ...coming].map(({ id, lookback, people }) => [id, { lookback, people }]));
  for (const { id, people } of coming) refuseCircleIn(bodies, id, people);
  for (const segment of coming) await insertSegment(tx, { siteId, ...segment });
  return coming.map(({ id, name }) => ({ id, name }));
}

/** A name that is not taken, which it then is. */
function unusedName(wanted: string, taken: Set<string>): string {
  let name = wanted;
  for (let number = 2; taken.has(name); number++) name = `${wanted} ${number}`;
  taken.add(name);
  return name;
}

const WORDS = { segments: 'segments', sets: 'page sets', places: 'places' } as const;

const MOST = 20;

const overlapSchema = z.strictObject({
  /** Ids; those that are gone are left out. */
  segments: z
    .array(z.string().max(100))
    .max(MOST - 1)
    .optional(),
  /** One under way, which comes first. */
  draft: segmentSchema.pick({ lookback: true, people: true }).optional(),
});

const newSegmentSchema = segmentSchema.extend({ name: nameSchema });

const SAMPLE = 6;

const lineSchema = segmentSchema.extend({ days: z.int().min(1).max(90) });

const DAYS = 30;
/** Beyond that nobody needs to know whether a file is empty. */
const MOST_COUNTED = 1000;

const segment = edited({
  table: 'segment',
  log: 'segment',
  prefix: 'seg',
  usedAs: 'segments',
  find: findSegment,
  insert: (db, siteId, id, given) => insertSegment(db, { ...given, siteId, id }),
  update: (db, siteId, id, given) => updateSegment(db, { ...given, siteId, id }),
  written: ({ name, lookback, people }: Pick<StoredSegment, 'name' | 'lookback' | 'people'>) => ({ name, lookback, people }),
  check: (db, siteId, id, { people }) => refuseCircle(db, siteId, { id, people }),
});

export const segmentsEndpoints = [
  endpoint({
    method: 'GET',
    path: '/api/segments/{id}',
    right: 'look',
    says: 'A segment',
    answers: 'The segment with its revision, and the campaigns and segments that name it',
    run: async ({ member: { siteId }, params: { id } }) => {
      const segment = await findSegment(poolOf(siteId), siteId, id);
      if (!segment) throw new Refused(404, 'notFound', 'This segment was deleted');
      const { name, lookback, people, revision } = segment;
      return { id, name, lookback, people, revision, users: await usersOf(poolOf(siteId), siteId, 'segments', id) };
    },
  }),
  endpoint({
    method: 'GET',
    path: '/api/segments/{id}/members',
    right: 'export',
    says: 'How many lines a file of its people would have',
    query: z.strictObject({ who: z.enum(MEMBER_CHOICES).default('all') }),
    answers: 'How many, up to a thousand, and whether there are more',
    run: async ({ member: { siteId }, params: { id }, query: { who } }) => {
      const db = await (await readingOf(siteId)).caughtUp();
      const segment = await findSegment(db, siteId, id);
      if (!segment) throw new Refused(404, 'notFound', 'This segment was deleted');
      let people = 0;
      for await (const _member of segmentMembers(db, siteId, { segment, now: Date.now(), who })) if (++people > MOST_COUNTED) break;
      return { people: Math.min(people, MOST_COUNTED), isMore: people > MOST_COUNTED };
    },
  }),
  endpoint({
    method: 'PUT',
    path: '/api/segments/{id}',
    right: 'edit',
    says: 'Save a segment',
    body: changedSegmentSchema,
    bodyShape: and(ref('Segment'), { name: NAME, revision: REVISION }),
    answers: 'The segment with its new revision',
    run: segment.save,
  }),
  endpoint({
    method: 'DELETE',
    path: '/api/segments/{id}',
    right: 'edit',
    says: 'Delete a segment that nothing names',
    answers: 'Nothing more',
    run: segment.remove,
  }),
  endpoint({
    method: 'POST',
    path: '/api/segments/contributions',
    right: 'look',
    says: 'What each condition of a segment under way takes',
    body: segmentSchema,
    bodyShape: ref('Segment'),
    answers: 'How many more people there would be without each',
    run: async ({ member: { siteId }, body: { lookback, people }, signal }) => {
      return analyse({ kind: 'contributions', site: siteId, segment: { lookback, people } }, { signal });
    },
  }),
  endpoint({
    method: 'POST',
    path: '/api/segments/import',
    right: 'edit',
    says: 'Bring segments in, all or none',
    body: importSchema,
    bodyShape: {
      anyOf: [
        and(ref('Segment'), { name: NAME }),
        { type: 'array', items: and(ref('Segment'), { name: NAME }), minItems: 1, maxItems: 500 },
      ],
    },
    answers: 'The new ids and names',
    run: async ({ member: { siteId }, body: given }) => {
      const made = await withTransaction(poolOf(siteId), (tx) => bringIn(tx, siteId, given));
      return { segments: made };
    },
  }),
  endpoint({
    method: 'POST',
    path: '/api/segments/overlap',
    right: 'look',
    says: 'How many people any two segments share',
    body: overlapSchema,
    bodyShape: {
      type: 'object',
      properties: { segments: { type: 'array', items: { type: 'string' }, maxItems: 19 }, draft: ref('Segment') },
      additionalProperties: false,
    },
    answers: 'The segments, and a matrix of people in both; a draft comes first',
    run: async ({ member: { siteId }, body: { segments: ids, draft }, signal }) => {
      const all = await listSegments(poolOf(siteId), siteId);
      const chosen = (ids ? all.filter(({ id }) => ids.includes(id)) : all).slice(0, draft ? MOST - 1 : MOST);
      const both = await analyse(
        {
          kind: 'overlap',
          site: siteId,
          segments: [...(draft ? [draft] : []), ...chosen.map(({ lookback, people }) => ({ lookback, people }))],
        },
        { signal },
      );
      return { segments: chosen.map(({ id, name }) => ({ id, name })), both };
    },
  }),
  endpoint({
    method: 'POST',
    path: '/api/segments',
    right: 'edit',
    says: 'A new segment',
    body: newSegmentSchema,
    bodyShape: and(ref('Segment'), { name: NAME }),
    answers: 'The segment with its id',
    run: segment.make,
  }),
  endpoint({
    method: 'POST',
    path: '/api/segments/size',
    right: 'look',
    says: 'How many people a segment under way holds',
    body: segmentSchema,
    bodyShape: ref('Segment'),
    answers: 'People, of how many, of how many it is unknown, and some of their visits',
    run: async ({ member: { siteId }, body: { lookback, people }, signal }) => {
      const started = performance.now();
      const { sample, ...size } = await analyse({ kind: 'size', site: siteId, segment: { lookback, people } }, { signal });
      const ms = Math.round(performance.now() - started);
      const visits = sample.length
        ? await (await readingOf(siteId)).read((db) => listVisits(db, siteId, { limit: SAMPLE, visitorIds: sample }))
        : [];
      return { ...size, ms, visits };
    },
  }),
  lines({
    method: 'GET',
    path: '/api/segments/sizes',
    right: 'look',
    says: 'The size of every segment',
    answers: 'Line by line as they are counted: people and visitors on record, by id and revision',
    run:
      async ({ member: { siteId }, signal }) =>
      (emit: (sizes: LastAnswers['sizes']) => void) =>
        countSegments(poolOf(siteId), siteId, { signal, onPart: emit }),
  }),
  endpoint({
    method: 'POST',
    path: '/api/segments/trend',
    right: 'look',
    says: 'A segment under way over the last days',
    body: lineSchema,
    bodyShape: and(ref('Segment'), { days: { type: 'integer', minimum: 1, maximum: 90 } }),
    answers: 'Its size at each midnight, and in the last 7 and 30 days',
    run: async ({ member: { siteId }, body: { lookback, people, days }, signal }) => {
      return analyse({ kind: 'trend', site: siteId, segment: { lookback, people }, days }, { signal });
    },
  }),
  endpoint({
    method: 'GET',
    path: '/api/segments/trends',
    right: 'look',
    says: 'Every segment over the last 30 days',
    answers: 'Sizes at each midnight, by id and revision',
    run: async ({ member: { siteId }, signal }) => {
      const segments = await listSegments(poolOf(siteId), siteId);
      const lines = await analyse(
        { kind: 'trends', site: siteId, segments: segments.map(({ lookback, people }) => ({ lookback, people })), days: DAYS },
        { signal },
      );
      const trends = Object.fromEntries(segments.map((segment, index) => [segmentKey(segment), lines[index] ?? []]));
      await keepAnswer(poolOf(siteId), siteId, { question: 'trends', answer: trends });
      return trends;
    },
  }),
  file({
    path: '/members.csv',
    right: 'export',
    says: 'Whoever is in a segment now',
    type: 'text/csv',
    alsoAsked: {
      id: { type: 'string' },
      column: { type: 'array', items: { type: 'string', enum: [...MEMBER_COLUMNS] } },
      who: { type: 'string', enum: [...MEMBER_CHOICES] },
    },
    answers: 'CSV (RFC 4180)',
    run: async ({ member: { siteId }, request }) => {
      const { searchParams } = new URL(request.url);
      const bad = (message: string): Response => Response.json({ error: { code: 'input', message } }, { status: 400 });
      const columns = memberColumnsSchema.safeParse(searchParams.getAll('column'));
      if (!columns.success)
        return bad(`column: met ${searchParams.getAll('column').join(', ') || 'nothing'}, expected some of ${MEMBER_COLUMNS.join(', ')}`);
      const who = (searchParams.get('who') ?? 'all') as MemberChoice;
      if (!MEMBER_CHOICES.includes(who)) return bad(`who: met ${who}, expected one of ${MEMBER_CHOICES.join(', ')}`);
      const db = await (await readingOf(siteId)).caughtUp();
      const segment = await findSegment(db, siteId, searchParams.get('id') ?? '');
      if (!segment) return Response.json({ error: { code: 'notFound', message: 'This segment is not here any more' } }, { status: 404 });
      const rows = async function* (): AsyncGenerator<string[]> {
        for await (const member of segmentMembers(db, siteId, { segment, now: Date.now(), who }))
          yield columns.data.map((name) => member[name]);
      };
      return csvResponse('members.csv', columns.data, rows());
    },
  }),
  file({
    path: '/segments.json',
    right: 'export',
    says: 'All segments, or the one named',
    query: oneOrAllSchema,
    answers: 'Segments',
    run: async ({ member: { siteId }, query }) => {
      const chosen = (await listSegments(poolOf(siteId), siteId))
        .filter(({ id }) => query.id === undefined || id === query.id)
        .map(({ id, name, lookback, people }) => ({ version: 1, id, name, lookback, people }));
      return download('segments.json', 'application/json', JSON.stringify(chosen));
    },
  }),
] as const;
