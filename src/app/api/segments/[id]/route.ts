import { changing } from '@/server/db/changing';
import { z } from 'zod';
import { nameSchema, segmentSchema } from '@/core/rules/schema';
import { answer, bodyAs, Refused } from '@/server/http/api';
import { moveToTrash } from '@/server/db/trash';
import { findSegment, updateSegment } from '@/server/db/segments';
import { poolOf } from '@/server/db/sharedPool';
import { usersInWords, usersOf } from '@/server/segments/users';
import { refuseCircle } from '../../../../server/segments/circle';

const changedSegmentSchema = segmentSchema.extend({ name: nameSchema, revision: z.int().min(1) });
type Context = { params: Promise<{ id: string }> };

/** A segment with what names it. */
export async function GET(request: Request, { params }: Context) {
  return answer(request, async ({ siteId }) => {
    const { id } = await params;
    const segment = await findSegment(poolOf(siteId), siteId, id);
    if (!segment) throw new Refused(404, 'notFound', 'This segment was deleted');
    const { name, lookback, people, revision } = segment;
    return { id, name, lookback, people, revision, users: await usersOf(poolOf(siteId), siteId, 'segments', id) };
  });
}

export async function PUT(request: Request, { params }: Context) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { id } = await params;
    const { name, lookback, people, revision } = await bodyAs(request, changedSegmentSchema);
    return changing(member, async (db, note) => {
      const before = await findSegment(db, siteId, id);
      if (!before) throw new Refused(404, 'notFound', 'This segment was deleted elsewhere. What you typed is still here.');
      await refuseCircle(db, siteId, { id, people });
      const saved = await updateSegment(db, { siteId, id, name, lookback, people, revision });
      await note({
        kind: 'segment',
        subject: id,
        name,
        did: 'changed',
        before: { name: before.name, lookback: before.lookback, people: before.people },
        after: { name, lookback, people },
      });
      return saved;
    });
  });
}

/** Refused while something still asks for the segment; says what. */
export async function DELETE(request: Request, { params }: Context) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { id } = await params;
    return changing(member, async (db, note) => {
      const users = await usersOf(db, siteId, 'segments', id);
      if (users.length) throw new Refused(409, 'segment.used', `It is used by ${usersInWords(users)}. Take it out there first.`);
      const before = await findSegment(db, siteId, id);
      await moveToTrash(db, 'segment', siteId, id);
      if (before)
        await note({
          kind: 'segment',
          subject: id,
          name: before.name,
          did: 'deleted',
          before: { name: before.name, lookback: before.lookback, people: before.people },
        });
    });
  });
}
