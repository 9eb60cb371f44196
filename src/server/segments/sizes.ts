import { analyse } from '../analysis/analyse';
import type { LastAnswers } from '../db/lastAnswers';
import { keepAnswer, segmentKey } from '../db/lastAnswers';
import type { Queryable } from '../db/queryable';
import { listSegments } from '../db/segments';

/** Counts all of a site's segments, telling those that are counted on the way, and keeps the answer for whoever looks next. */
export async function countSegments(
  db: Queryable,
  siteId: number,
  { signal, onPart }: { signal?: AbortSignal; onPart?: (sizes: LastAnswers['sizes']) => void } = {},
): Promise<LastAnswers['sizes']> {
  const segments = await listSegments(db, siteId);
  const keyed = (sizes: readonly { people: number; of: number }[]): LastAnswers['sizes'] =>
    Object.fromEntries(
      segments.flatMap((segment, index) => {
        const size = sizes[index];
        return size ? [[segmentKey(segment), { people: size.people, of: size.of }]] : [];
      }),
    );
  const sizes = await analyse(
    { kind: 'sizes', site: siteId, segments: segments.map(({ lookback, people }) => ({ lookback, people })) },
    { ...(signal ? { signal } : {}), onPart: (part) => onPart?.(keyed(part)) },
  );
  const answer = keyed(sizes);
  await keepAnswer(db, siteId, { question: 'sizes', answer });
  return answer;
}
