import { z } from 'zod';
import { isHere, nextChange } from '@/core/conversations/hours';
import { may } from '../auth/rights';
import { Watching } from '../conversations/watch';
import { answeringOf, listColleagues, setAnswering } from '../db/colleagues';
import { conversationResults } from '../db/conversationResults';
import { newId } from '../db/ids';
import { createListener, withTransaction } from '../db/pool';
import { deleteSavedAnswer, insertSavedAnswer, listSavedAnswers } from '../db/savedAnswers';
import { pool, poolOf, readingOf } from '../db/sharedPool';
import { findTalkPicture, hasTalkPicture, keepTalkPicture } from '../db/talkPictures';
import {
  addEvent,
  addLine,
  announceWriting,
  findThread,
  listThreads,
  seenByTeam,
  setMember,
  setThreadState,
  setThreadTags,
} from '../db/threads';
import { CONVERSATION_COLUMNS, eachConversation } from '../exchange/conversations';
import { bytesOf } from '../http/api';
import { csvResponse } from '../http/downloads';
import { refusedPicture } from '../http/pictures';
import { Refused } from '../http/refused';
import { answeringToSaveSchema, inThreadSchema, savedAnswerSchema, threadsSchema } from '../http/requests';
import { MOST_BYTES } from '../pictures/refused';
import { takePicture } from '../pictures/take';
import { loadFacts } from '../visitors/facts';
import { bytes, endpoint, events, file } from './endpoint';

/** UTC ms. */
const instant = z.coerce.number().optional();

const gone = (): Refused => new Refused(404, 'notFound', 'This conversation is not here any more. What you typed is still here.');

const shared = globalThis as typeof globalThis & { crindleWatching?: Watching };

export const conversationsEndpoints = [
  endpoint({
    method: 'GET',
    path: '/api/campaigns/{id}/answering',
    right: 'look',
    says: 'Who gets a campaign’s conversations',
    answers: 'What is set, and who might',
    run: async ({ member: { siteId }, params }) => {
      const db = poolOf(siteId);
      return {
        answering: await answeringOf(db, siteId, params.id),
        people: (await listColleagues(db, siteId)).filter(({ answers }) => answers).map(({ member, name }) => ({ member, name })),
      };
    },
  }),
  endpoint({
    method: 'PUT',
    path: '/api/campaigns/{id}/answering',
    right: 'edit',
    says: 'Set it',
    body: answeringToSaveSchema,
    answers: 'Nothing more',
    run: async ({ member: { siteId }, body: { answering }, params }) => {
      if (!(await setAnswering(poolOf(siteId), siteId, params.id, answering)))
        throw new Refused(404, 'notFound', 'This campaign is not here any more');
    },
  }),
  endpoint({
    method: 'GET',
    path: '/api/campaigns/{id}/conversations',
    right: 'look',
    says: 'What came of a campaign’s conversations with people',
    query: z.object({ from: instant, to: instant }),
    answers: 'How many were answered and missed, how long they waited, by person',
    run: async ({ member: { siteId }, params, query }) =>
      conversationResults(await (await readingOf(siteId)).caughtUp(), siteId, {
        campaign: params.id,
        from: query.from,
        to: query.to,
        now: Date.now(),
      }),
  }),
  bytes({
    path: '/api/conversations/{id}/pictures/{picture}',
    right: 'people',
    says: 'A picture of a conversation',
    type: 'image/webp',
    answers: 'WebP',
    run: async ({ member: { siteId }, params: { id: thread, picture: id } }) => {
      const found = await findTalkPicture(poolOf(siteId), siteId, { thread, id });
      if (!found) throw new Refused(404, 'notFound', 'That picture is not in this conversation');
      return { tag: id, parts: [found.bytes], type: 'image/webp' };
    },
  }),
  endpoint({
    method: 'POST',
    path: '/api/conversations/{id}/pictures',
    right: 'answer',
    says: 'A picture for an answer that is to show it, as the bytes of a file of at most 5 MB; it is encoded anew',
    answers: 'Its id and size in pixels',
    run: async ({ member: { siteId }, params: { id: thread }, request }) => {
      const db = poolOf(siteId);
      const given = await bytesOf(request, MOST_BYTES);
      const visitor = (await findThread(db, siteId, thread))?.visitor;
      if (visitor === undefined) throw new Refused(404, 'notFound', 'This conversation is not here any more');
      const { width, height, bytes } = await takePicture(given, { widths: [] }).catch(refusedPicture);
      return { id: await keepTalkPicture(db, siteId, { thread, visitor, width, height, bytes }), width, height };
    },
  }),
  endpoint({
    method: 'GET',
    path: '/api/conversations/{id}',
    right: 'people',
    says: 'A conversation with its lines; it is seen by then',
    answers: 'The conversation',
    run: async ({ member: { siteId, role }, params: { id } }) => {
      const db = poolOf(siteId);
      if (may(role, 'answer')) await seenByTeam(db, siteId, id);
      const thread = await findThread(db, siteId, id);
      if (!thread) throw gone();
      return thread;
    },
  }),
  endpoint({
    method: 'POST',
    path: '/api/conversations/{id}',
    right: 'answer',
    says: 'Answer, note, say that one is writing, hand over, close, open again, or tag; a line of the same id again is once',
    body: inThreadSchema,
    answers: 'Nothing more',
    run: async ({ member: { siteId, id: member, name }, body: asked, params: { id } }) => {
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
            if (thread.member === null) await setMember(tx, siteId, { thread: id, member, now: Date.now() });
            return;
          case 'note':
            return void (await addLine(tx, siteId, id, { id: asked.id, by: 'note', member, text: asked.text }, 'neither'));
          case 'give': {
            const to = (await listColleagues(tx, siteId)).find((one) => one.member === asked.member);
            if (!to) throw new Refused(400, 'member.unknown', `member: met ${asked.member}, expected somebody of this site`);
            if (to.member === thread.member) return;
            await setMember(tx, siteId, { thread: id, member: to.member, now: Date.now() });
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
    },
  }),
  endpoint({
    method: 'GET',
    path: '/api/conversations/{id}/who',
    right: 'people',
    says: 'Who its visitor is, by what is on record',
    answers: 'Facts and segments',
    run: async ({ member: { siteId }, params }) => {
      const thread = await findThread(poolOf(siteId), siteId, params.id);
      if (!thread) throw new Refused(404, 'notFound', 'This conversation is not here any more');
      return { facts: (await loadFacts(poolOf(siteId), siteId, thread.visitor)) ?? null };
    },
  }),
  events({
    path: '/api/conversations/live',
    right: 'people',
    says: 'What changes in conversations',
    answers: 'Events: `changed` with the thread, `writing` with the one that its visitor writes in',
    run: ({ member: { siteId } }, say) => {
      shared.crindleWatching ??= new Watching(pool(), poolOf, createListener);
      say('ready', {});
      return shared.crindleWatching.watch(siteId, (thread, writes) => say(writes ? 'writing' : 'changed', { thread: thread ?? null }));
    },
  }),
  endpoint({
    method: 'GET',
    path: '/api/conversations',
    right: 'people',
    says: 'Conversations, whoever waits longest first, and who of the team is here',
    query: threadsSchema,
    answers: 'Conversations without their lines',
    run: async ({ member: { siteId, id }, query: { state, mine, words, most } }) => {
      const db = poolOf(siteId);
      const now = Date.now();
      const [threads, colleagues] = await Promise.all([
        listThreads(db, siteId, {
          state,
          member: mine === undefined ? undefined : id,
          words,
          most: most + 1,
        }),
        listColleagues(db, siteId),
      ]);
      return {
        now,
        threads: threads.slice(0, most),
        hasMore: threads.length > most,
        me: id,
        colleagues: colleagues
          .filter(({ answers }) => answers)
          .map(({ member, name, presence, open }) => ({
            member,
            name,
            open,
            isHere: isHere(presence, now),
            until: nextChange(presence, now) ?? null,
          })),
      };
    },
  }),
  endpoint({
    method: 'DELETE',
    path: '/api/saved-answers/{id}',
    right: 'answer',
    says: 'Delete one',
    answers: 'Nothing more',
    run: async ({ member: { siteId }, params }) => {
      if (!(await deleteSavedAnswer(poolOf(siteId), siteId, params.id)))
        throw new Refused(404, 'notFound', 'This answer is not here any more');
    },
  }),
  endpoint({
    method: 'GET',
    path: '/api/saved-answers',
    right: 'people',
    says: 'Answers that are kept',
    answers: 'Names and texts',
    run: async ({ member: { siteId } }) => ({ answers: await listSavedAnswers(poolOf(siteId), siteId) }),
  }),
  endpoint({
    method: 'POST',
    path: '/api/saved-answers',
    right: 'answer',
    says: 'Keep another',
    body: savedAnswerSchema,
    answers: 'Its id',
    run: async ({ member: { siteId }, body: { name, text } }) => {
      const id = newId('ans');
      await insertSavedAnswer(poolOf(siteId), siteId, { id, name, text });
      return { id };
    },
  }),
  file({
    path: '/conversations.csv',
    right: 'export',
    says: 'Conversations that wanted a person',
    type: 'text/csv',
    query: z.object({ campaign: z.string().max(100).optional() }),
    answers: 'CSV (RFC 4180)',
    run: async ({ member: { siteId }, query: { campaign } }) => {
      const db = await (await readingOf(siteId)).caughtUp();
      const rows = async function* (): AsyncGenerator<string[]> {
        for await (const row of eachConversation(db, siteId, campaign)) yield CONVERSATION_COLUMNS.map((name) => row[name]);
      };
      return csvResponse('conversations.csv', CONVERSATION_COLUMNS, rows());
    },
  }),
] as const;
