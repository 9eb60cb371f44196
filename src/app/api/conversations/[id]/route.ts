import { withTransaction } from '@/server/db/pool';
import { poolOf } from '@/server/db/sharedPool';
import { hasTalkPicture } from '@/server/db/talkPictures';
import { addEvent, addLine, announceWriting, findThread, seenByTeam, setMember, setThreadState, setThreadTags } from '@/server/db/threads';
import { listColleagues } from '@/server/db/colleagues';
import { may } from '@/server/auth/rights';
import { answer, bodyAs, Refused } from '@/server/http/api';
import { inThreadSchema } from '@/server/http/requests';

type Context = { params: Promise<{ id: string }> };

const gone = (): Refused => new Refused(404, 'notFound', 'This conversation is not here any more. What you typed is still here.');

/** A conversation with its lines; whoever may answer has seen it by then. */
export async function GET(request: Request, { params }: Context) {
  return answer(request, async ({ siteId, role }) => {
    const db = poolOf(siteId);
    const { id } = await params;
    if (may(role, 'answer')) await seenByTeam(db, siteId, id);
    const thread = await findThread(db, siteId, id);
    if (!thread) throw gone();
    return thread;
  });
}

export async function POST(request: Request, { params }: Context) {
  return answer(request, async ({ siteId, id: member, name }) => {
    const asked = await bodyAs(request, inThreadSchema);
    const { id } = await params;
    const db = poolOf(siteId);
    if (asked.does === 'writing') return announceWriting(db, siteId, { thread: id, by: name });
    const thread = await findThread(db, siteId, id);
    if (!thread) throw gone();
    if (asked.does === 'tag') return void (await setThreadTags(db, siteId, id, [...new Set(asked.tags)]));
    await withTransaction(db, async (tx) => {
      switch (asked.does) {
        case 'answer':
          if (asked.picture !== undefined && !(await hasTalkPicture(tx, siteId, { thread: id, id: asked.picture })))
            throw new Refused(400, 'picture.unknown', 'picture: met one that is not of this conversation; send it again');
          await addLine(tx, siteId, id, { id: asked.id, by: 'team', member, text: asked.text, picture: asked.picture }, 'answers');
          // Whoever answers has it, where nobody did.
          if (thread.member === null) await setMember(tx, siteId, id, member);
          return;
        case 'note':
          return void (await addLine(tx, siteId, id, { id: asked.id, by: 'note', member, text: asked.text }, 'neither'));
        case 'give': {
          const to = (await listColleagues(tx, siteId)).find((one) => one.member === asked.member);
          if (!to) throw new Refused(400, 'member.unknown', `member: met ${asked.member}, expected somebody of this site`);
          if (to.member === thread.member) return;
          await setMember(tx, siteId, id, to.member);
          return void (await addEvent(
            tx,
            siteId,
            id,
            to.member === member ? `${name} took it` : `${name} handed it to ${to.name}`,
            member,
          ));
        }
        case 'close':
        case 'open':
          return void (await setThreadState(tx, siteId, { thread: id, state: asked.does === 'close' ? 'closed' : 'open', member, name }));
      }
    });
  });
}
