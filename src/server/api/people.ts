import { z } from 'zod';
import { hoursCalendar } from '@/core/conversations/calendar';
import { bounded } from '../bounded/bounded';
import { changing } from '../db/changing';
import { listColleagues, saveColleague, setCalendar, setColleaguePicture, setPresence } from '../db/colleagues';
import { keepPicture } from '../db/pictures';
import { withTransaction } from '../db/pool';
import { poolOf } from '../db/sharedPool';
import { bytesOf, ownerAllows } from '../http/api';
import { download } from '../http/downloads';
import { ofThemselves } from '../http/people';
import { refusedPicture } from '../http/pictures';
import { Refused } from '../http/refused';
import { calendarSchema, colleagueSchema, presenceSchema } from '../http/requests';
import { MOST_BYTES } from '../pictures/refused';
import { takePicture } from '../pictures/take';
import { endpoint, file } from './endpoint';

const DAYS = 90;

export const peopleEndpoints = [
  endpoint({
    method: 'PUT',
    path: '/api/people/{id}/calendar',
    right: 'answer',
    says: 'When somebody is busy elsewhere: a calendar’s address or text',
    body: calendarSchema,
    answers: 'Nothing more',
    run: async ({ member: asking, body: { url, allowPrivate, text }, params }) => {
      const { siteId } = asking;
      const member = ofThemselves(asking, params.id);
      ownerAllows(asking, { url, allowPrivate });
      if (text !== null)
        await bounded('busyIn', [text, { from: 0, to: 1, zone: 'UTC' }], (code, message) => new Refused(400, code, `text: ${message}`));
      if (!(await setCalendar(poolOf(siteId), siteId, { member, url, allowPrivate, text })))
        throw new Refused(404, 'notFound', 'They are not of this site any more');
    },
  }),
  endpoint({
    method: 'POST',
    path: '/api/people/{id}/picture',
    right: 'answer',
    says: 'What visitors see somebody by: the bytes of a picture',
    answers: 'Its hash',
    run: async ({ member: me, params, request }) => {
      const member = ofThemselves(me, params.id);
      const made = await takePicture(await bytesOf(request, MOST_BYTES)).catch(refusedPicture);
      const isTheirs = await withTransaction(poolOf(me.siteId), async (tx) => {
        await keepPicture(tx, me.siteId, { ...made, name: 'A person of the team' });
        return setColleaguePicture(tx, me.siteId, { member, picture: made.hash });
      });
      if (!isTheirs) throw new Refused(404, 'notFound', 'They are not of this site any more');
      return { hash: made.hash };
    },
  }),
  endpoint({
    method: 'DELETE',
    path: '/api/people/{id}/picture',
    right: 'answer',
    says: 'The first letter of the name again',
    answers: 'Nothing more',
    run: async ({ member: me, params }) => {
      const member = ofThemselves(me, params.id);
      if (!(await setColleaguePicture(poolOf(me.siteId), me.siteId, { member, picture: null })))
        throw new Refused(404, 'notFound', 'They are not of this site any more');
    },
  }),
  endpoint({
    method: 'PUT',
    path: '/api/people/{id}',
    right: 'answer',
    says: 'What visitors see of somebody, and their hours',
    body: colleagueSchema,
    answers: 'Nothing more',
    run: async ({ member, body: colleague, params }) => {
      const { siteId } = member;
      const of = ofThemselves(member, params.id);
      return changing(member, async (db, note) => {
        if (!(await saveColleague(db, siteId, { member: of, ...colleague })))
          throw new Refused(404, 'notFound', 'They are not of this site any more');
        await note({
          kind: 'setup',
          subject: 'people',
          name: colleague.title || `person ${of}`,
          did: 'changed',
        });
      });
    },
  }),
  endpoint({
    method: 'PUT',
    path: '/api/people/presence',
    right: 'answer',
    says: 'Be here, or away, by hand',
    body: presenceSchema,
    answers: 'Nothing more',
    run: async ({ member: { siteId, id }, body: presence }) => {
      await setPresence(poolOf(siteId), siteId, { member: id, ...presence });
    },
  }),
  file({
    path: '/hours.ics',
    right: 'answer',
    says: 'Somebody’s hours of the next ninety days',
    type: 'text/calendar',
    query: z.object({ member: z.coerce.number() }),
    answers: 'iCalendar (RFC 5545)',
    run: async ({ member: { siteId }, query: { member } }) => {
      const found = (await listColleagues(poolOf(siteId), siteId)).find((one) => one.member === member);
      if (!found?.presence.hours) throw new Refused(404, 'notFound', 'They have no hours');
      const text = hoursCalendar({
        hours: found.presence.hours,
        name: found.name,
        uid: `hours-${siteId}-${member}`,
        now: Date.now(),
        days: DAYS,
      });
      return download('hours.ics', 'text/calendar', text);
    },
  }),
] as const;
