import { changing } from '@/server/db/changing';
import type { z } from 'zod';
import { nameSchema, segmentSchema } from '@/core/rules/schema';
import { answer, bodyAs } from '@/server/http/api';
import { insertSegment } from '@/server/db/segments';
import { newId } from '@/server/db/ids';
import { refuseCircle } from '../../../server/segments/circle';

const newSegmentSchema = segmentSchema.extend({ name: nameSchema });
export type NewSegment = z.infer<typeof newSegmentSchema>;

export async function POST(request: Request) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { name, lookback, people } = await bodyAs(request, newSegmentSchema);
    const id = newId('seg');
    return changing(member, async (db, note) => {
      await refuseCircle(db, siteId, { id, people });
      const made = await insertSegment(db, { siteId, id, name, lookback, people });
      await note({
        kind: 'segment',
        subject: id,
        name,
        did: 'made',
        after: { name, lookback, people },
      });
      return made;
    });
  });
}
