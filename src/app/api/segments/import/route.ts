import { z } from 'zod';
import { referencesIn } from '@/core/rules/references';
import { inOrderOfUse, withSegmentIds } from '@/core/rules/rename';
import type { Issue } from '@/core/parsing/parse';
import { issueWords } from '@/core/parsing/parse';
import { nameSchema, segmentSchema } from '@/core/rules/schema';
import { answer, bodyAs, Refused } from '@/server/http/api';
import { withTransaction } from '@/server/db/pool';
import type { Queryable } from '@/server/db/queryable';
import { insertSegment, listSegments } from '@/server/db/segments';
import { pageSets, places } from '@/server/db/vocabulary';
import { newId } from '@/server/db/ids';
import { poolOf } from '@/server/db/sharedPool';
import { refuseCircleIn } from '../../../../server/segments/circle';

const oneSchema = segmentSchema.extend({ name: nameSchema });
const importSchema = z.union([oneSchema.transform((one) => [one]), z.array(oneSchema).min(1).max(500)]);

/**
 * Segments as they were taken out, all or none. They get ids of their own, under which those that came along name each other;
 * what else they name has to be here. A name that is taken gets a number behind it.
 */
export async function POST(request: Request) {
  return answer(request, async ({ siteId }) => {
    const given = await bodyAs(request, importSchema);
    const made = await withTransaction(poolOf(siteId), (tx) => bringIn(tx, siteId, given));
    return { segments: made };
  });
}

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
