import QRCode from 'qrcode';
import { beginFactor, changePassword, endFactor, finishFactor } from '../auth/account';
import { dropInvitation, invitationMail, invite } from '../auth/invitations';
import { sessionsEnded } from '../auth/sessionEnds';
import { tokenHash } from '../auth/token';
import { changing } from '../db/changing';
import { changeRole, chooseSite, endSessions, LastOwner, leaveSite, renameMember } from '../db/members';
import { withTransaction } from '../db/pool';
import { pool, poolOf, tellMembers } from '../db/sharedPool';
import { findSite } from '../db/sites';
import { Refused } from '../http/refused';
import {
  factorSchema,
  invitationSchema,
  newPasswordSchema,
  newSiteSchema,
  ownNameSchema,
  ownPasswordSchema,
  roleSchema,
} from '../http/requests';
import { canMail, sendMail } from '../mail/mailer';
import { makeSite } from '../sites/make';
import { endpoint } from './endpoint';

const numberOf = (id: string): number => {
  const number = Number(id);
  if (!Number.isInteger(number) || number < 1 || number > 2 ** 31 - 1) throw gone();
  return number;
};

const gone = (): Refused => new Refused(404, 'notFound', 'They are not of this site any more');

const lastOwner = (cause: unknown): never => {
  throw cause instanceof LastOwner ? new Refused(409, 'owner.last', 'A site has an owner: make somebody else one first') : cause;
};

export const accountEndpoints = [
  endpoint({
    method: 'POST',
    path: '/api/account/factor',
    right: 'self',
    says: 'Begin with a second factor (RFC 6238)',
    body: ownPasswordSchema,
    answers: 'A ticket, the secret and its picture',
    run: async ({ member, body: { password }, from }) => {
      const { ticket, secret, uri } = await beginFactor(pool(), { member, password, address: from.address });
      return { ticket, secret, picture: await QRCode.toDataURL(uri, { margin: 1, width: 220 }) };
    },
  }),
  endpoint({
    method: 'PUT',
    path: '/api/account/factor',
    right: 'self',
    says: 'From now on it is asked for',
    body: factorSchema,
    answers: 'Spare codes, this once',
    run: async ({ member, body }) => ({
      codes: await finishFactor(pool(), { member, now: Date.now(), ...body }),
    }),
  }),
  endpoint({
    method: 'DELETE',
    path: '/api/account/factor',
    right: 'self',
    says: 'No second factor any more',
    body: ownPasswordSchema,
    answers: 'Nothing more',
    run: async ({ member, body: { password }, from }) => {
      await endFactor(pool(), { member, password, address: from.address });
    },
  }),
  endpoint({
    method: 'PUT',
    path: '/api/account/password',
    right: 'self',
    says: 'Another password; all other sessions end',
    body: newPasswordSchema,
    answers: 'Nothing more',
    run: async ({ member, body, session, from }) => {
      await changePassword(pool(), { member, session: tokenHash(session), address: from.address, ...body });
    },
  }),
  endpoint({
    method: 'PUT',
    path: '/api/account',
    right: 'self',
    says: 'One’s own name',
    body: ownNameSchema,
    answers: 'Nothing more',
    run: async ({ member: { id }, body }) => renameMember(pool(), id, body.name),
  }),
  endpoint({
    method: 'DELETE',
    path: '/api/account/sessions/{id}',
    right: 'self',
    says: 'End one session',
    answers: 'Nothing more',
    run: async ({ member: { id }, params }) => {
      const ended = await endSessions(pool(), id, { id: params.id });
      if (ended.length === 0) throw new Refused(404, 'notFound', 'That session is over already');
      sessionsEnded(ended);
    },
  }),
  endpoint({
    method: 'DELETE',
    path: '/api/account/sessions',
    right: 'self',
    says: 'End all other sessions',
    answers: 'How many ended',
    run: async ({ member: { id }, session }) => {
      const ended = await endSessions(pool(), id, { but: tokenHash(session) });
      sessionsEnded(ended);
      return { sessions: ended.length };
    },
  }),
  endpoint({
    method: 'PUT',
    path: '/api/members/{id}',
    right: 'own',
    says: 'Another role',
    body: roleSchema,
    answers: 'Nothing more',
    run: async ({ member, body, params }) => {
      const { siteId } = member;
      const [id, { role }] = [numberOf(params.id), body];
      await withTransaction(pool(), async (home) => {
        const name = await changeRole(home, siteId, id, role).catch(lastOwner);
        if (name === undefined) throw gone();
        await changing(member, (_, note) => note({ kind: 'setup', subject: `member ${id}`, name: `${name} as ${role}`, did: 'changed' }));
      });
      await tellMembers(siteId);
    },
  }),
  endpoint({
    method: 'DELETE',
    path: '/api/members/{id}',
    right: 'own',
    says: 'They are of this site no more',
    answers: 'Nothing more',
    run: async ({ member, params }) => {
      const { siteId } = member;
      const id = numberOf(params.id);
      await withTransaction(pool(), async (home) => {
        const name = await leaveSite(home, siteId, id).catch(lastOwner);
        if (name === undefined) throw gone();
        await changing(member, (_, note) => note({ kind: 'setup', subject: `member ${id}`, name, did: 'deleted' }));
      });
      await tellMembers(siteId);
    },
  }),
  endpoint({
    method: 'DELETE',
    path: '/api/members/invitations/{id}',
    right: 'own',
    says: 'Take an invitation back',
    answers: 'Nothing more',
    run: async ({ member: { siteId }, params }) => {
      if (!(await dropInvitation(pool(), siteId, params.id))) throw new Refused(404, 'notFound', 'That invitation is over, or was taken');
    },
  }),
  endpoint({
    method: 'POST',
    path: '/api/members/invitations',
    right: 'own',
    says: 'Invite somebody',
    body: invitationSchema,
    answers: 'Whether the link was mailed; where it was not, the link itself, to be handed over',
    run: async ({ member, body: { email, role } }) => {
      const { siteId, name: by } = member;
      const link = await withTransaction(pool(), async (home) => {
        const made = await invite(home, siteId, { email, role, by, isHanded: !canMail() });
        if (made === undefined) throw new Refused(409, 'member.there', `email: ${email} is of this site already`);
        await changing(member, (_, note) => note({ kind: 'setup', subject: 'members', name: email, did: 'changed' }));
        return made;
      });
      const site = (await findSite(poolOf(siteId), siteId))?.name ?? '';
      let trouble: string | undefined;
      if (canMail())
        await sendMail(invitationMail({ email, site, by, link })).catch((cause: unknown) => {
          console.error('invitation:', cause);
          trouble = cause instanceof Error ? cause.message : String(cause);
        });
      const isMailed = canMail() && trouble === undefined;
      if (isMailed) return { isMailed };
      // Whoever invites hands it over: it proves nobody's email then.
      await pool().query(`update invitation set is_handed = true where site_id = $1 and email = lower($2)`, [siteId, email]);
      return { link, isMailed, ...(trouble === undefined ? {} : { trouble }) };
    },
  }),
  endpoint({
    method: 'POST',
    path: '/api/sites/{id}',
    right: 'self',
    says: 'Go on at another site of one’s own',
    answers: 'Nothing more',
    run: async ({ params: { id }, session }) => {
      const siteId = Number(id);
      const isChosen =
        Number.isInteger(siteId) && siteId > 0 && siteId < 2 ** 31 && (await chooseSite(pool(), { tokenHash: tokenHash(session), siteId }));
      if (!isChosen) throw new Refused(404, 'notFound', `No site of yours has the number ${id.slice(0, 20)}`);
    },
  }),
  endpoint({
    method: 'POST',
    path: '/api/sites',
    right: 'own',
    says: 'Make another site, and go on there',
    body: newSiteSchema,
    answers: 'Its id and its key',
    run: async ({ member: { id: memberId }, body: { name, address }, session }) => {
      return withTransaction(pool(), async (tx) => {
        const { id, key } = await makeSite(tx, { name, host: address, memberId });
        await chooseSite(tx, { tokenHash: tokenHash(session), siteId: id });
        return { id, key };
      });
    },
  }),
] as const;
