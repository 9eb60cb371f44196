import { randomBytes, randomUUID } from 'node:crypto';
import { kindTakes } from '@/core/connections/kinds';
import type { ConnectionBody } from '@/core/connections/kinds';
import { mapLead } from '@/core/connections/mapping';
import { formFields } from '@/core/leads/consent';
import { boundTo } from '../connections/deliver';
import { checkConnection, sendTo } from '../connections/kinds/all';
import { decrypt, encrypt } from '../connections/secrets';
import { lastLead } from '../connections/waiting/deliveries';
import { findCampaign } from '../db/campaigns';
import { changing } from '../db/changing';
import {
  connectionsOfCampaign,
  deleteConnection,
  findConnection,
  findConnectionSecret,
  insertConnection,
  listConnections,
  noteExchange,
  sendAgain,
  setConnectionsOfCampaign,
  updateConnection,
} from '../db/connections';
import { newId } from '../db/ids';
import { compareNow, endKept, keepSegment, listKept, membersAgain } from '../db/keptSegments';
import { withTransaction } from '../db/pool';
import { findSegment } from '../db/segments';
import { poolOf } from '../db/sharedPool';
import { ownerAllows } from '../http/api';
import { Refused } from '../http/refused';
import { changedConnectionSchema, keptSchema, newConnectionSchema, sendAgainSchema, sendsSchema, tryMappingSchema } from '../http/requests';
import { endpoint } from './endpoint';

export const connectionsEndpoints = [
  endpoint({
    method: 'GET',
    path: '/api/campaigns/{id}/sends',
    right: 'edit',
    says: 'Which connections a campaign’s leads go to, and what of them',
    answers: 'Ids and mappings, all connections, names of answers',
    run: async ({ member: { siteId }, params: { id } }) => {
      const db = poolOf(siteId);
      const [connections, all, campaign] = await Promise.all([
        connectionsOfCampaign(db, siteId, id),
        listConnections(db, siteId),
        findCampaign(db, siteId, id),
      ]);
      return {
        connections,
        all: all.filter(({ kind }) => kindTakes(kind, 'leads')).map(({ id: of, name, kind }) => ({ id: of, name, kind })),
        answers: campaign ? [...new Set(formFields(campaign.flow).map(({ name }) => name))] : [],
      };
    },
  }),
  endpoint({
    method: 'PUT',
    path: '/api/campaigns/{id}/sends',
    right: 'edit',
    says: 'Choose them',
    body: sendsSchema,
    answers: 'Nothing more',
    run: async ({ member: { siteId }, body: { connections }, params: { id } }) => {
      await withTransaction(poolOf(siteId), (tx) => setConnectionsOfCampaign(tx, siteId, id, connections));
    },
  }),
  endpoint({
    method: 'POST',
    path: '/api/campaigns/{id}/sends/try',
    right: 'edit',
    says: 'What goes to a connection of the campaign’s last lead; with `send` it really goes',
    body: tryMappingSchema,
    answers: 'The lead, what goes, and what the service answered',
    run: async ({ member: { siteId }, body: { connection: id, mapping, send }, params }) => {
      const db = poolOf(siteId);
      const [connection, lead] = await Promise.all([findConnection(db, siteId, id), lastLead(db, siteId, params.id)]);
      if (!connection) throw new Refused(404, 'notFound', 'This connection is not here any more');
      if (!lead) return { lead: null };
      const mapped = mapLead(lead, mapping ?? undefined);
      if (!send) return { lead: { email: lead.email, at: lead.at }, goes: mapped };
      const kept = await findConnectionSecret(db, siteId, id);
      const now = Date.now();
      const { verdict, status, note } = await sendTo(
        connection,
        { what: 'lead', lead: { ...lead, ...mapped } },
        { secret: kept ? decrypt(kept, boundTo(siteId, id)) : undefined, now, delivery: randomUUID() },
      );
      await noteExchange(db, siteId, id, { what: 'lead, tried', status, tookMs: Date.now() - now, note });
      return { lead: { email: lead.email, at: lead.at }, goes: mapped, came: { ok: verdict.is === 'sent', note } };
    },
  }),
  endpoint({
    method: 'POST',
    path: '/api/connections/{id}/check',
    right: 'edit',
    says: 'Really ask a connection',
    answers: 'Whether it answers, and why not',
    run: async ({ member: { siteId }, params: { id } }) => {
      const db = poolOf(siteId);
      const connection = await findConnection(db, siteId, id);
      if (!connection) throw new Refused(404, 'notFound', 'This connection is not here any more');
      const kept = await findConnectionSecret(db, siteId, id);
      const now = Date.now();
      const { verdict, status, note } = await checkConnection(connection, {
        secret: kept ? decrypt(kept, boundTo(siteId, id)) : undefined,
        now,
      });
      await noteExchange(db, siteId, id, { what: 'check', status, tookMs: Date.now() - now, note });
      return { ok: verdict.is === 'sent', note };
    },
  }),
  endpoint({
    method: 'PUT',
    path: '/api/connections/{id}',
    right: 'own',
    says: 'Save a connection',
    body: changedConnectionSchema,
    answers: 'Its new revision',
    run: async ({ member, body: { name, revision, kind, settings, secret }, params: { id } }) => {
      const { siteId } = member;
      return changing(member, async (db, note) => {
        const before = await findConnection(db, siteId, id);
        if (!before) throw new Refused(404, 'notFound', 'This connection was deleted elsewhere. What you typed is still here.');
        ownerAllows(member, settings, before.settings);
        const saved = await updateConnection(db, siteId, {
          id,
          name,
          body: { kind, settings } as ConnectionBody,
          secret: secret ? encrypt(secret, boundTo(siteId, id)) : undefined,
          revision,
        });
        await note({
          kind: 'connection',
          subject: id,
          name,
          did: secret ? 'given another secret' : 'changed',
          before: { name: before.name, settings: before.settings },
          after: { name, settings },
        });
        return { revision: saved };
      });
    },
  }),
  endpoint({
    method: 'DELETE',
    path: '/api/connections/{id}',
    right: 'own',
    says: 'Delete a connection, with what waits for it',
    answers: 'Nothing more',
    run: async ({ member, params: { id } }) => {
      const { siteId } = member;
      return changing(member, async (db, note) => {
        const before = await findConnection(db, siteId, id);
        const keeps = (await listKept(db, siteId, { connection: id })).map(({ segment, segmentName }) => segmentName ?? segment);
        // Whoever is there would be left there, and nobody could take them out any more.
        if (keeps.length > 0)
          throw new Refused(
            409,
            'connection.keeps',
            `It keeps ${keeps.map((name) => `“${name}”`).join(', ')} in step: end that first, so that everybody is taken out there.`,
          );
        if (!before || !(await deleteConnection(db, siteId, id)))
          throw new Refused(404, 'notFound', 'This connection is not here any more');
        await note({ kind: 'connection', subject: id, name: before.name, did: 'deleted' });
      });
    },
  }),
  endpoint({
    method: 'GET',
    path: '/api/connections',
    right: 'edit',
    says: 'Connections, with what was sent, waits and has failed',
    answers: 'Connections, without secrets',
    run: async ({ member: { siteId } }) => ({ connections: await listConnections(poolOf(siteId), siteId) }),
  }),
  endpoint({
    method: 'POST',
    path: '/api/connections',
    right: 'own',
    says: 'A new connection',
    body: newConnectionSchema,
    answers: 'Its id; of a web hook without a key the one that was made, this once',
    run: async ({ member, body: { name, ...given } }) => {
      const { siteId } = member;
      ownerAllows(member, given.settings);
      const id = newId('conn');
      const made = given.kind === 'hook' && !given.secret ? `whsec_${randomBytes(24).toString('base64')}` : undefined;
      const secret = made ?? ('secret' in given ? given.secret : undefined);
      return changing(member, async (db, note) => {
        await insertConnection(db, siteId, {
          id,
          name,
          body: { kind: given.kind, settings: given.settings } as ConnectionBody,
          secret: secret ? encrypt(secret, boundTo(siteId, id)) : undefined,
        });
        // Secrets are in no log.
        await note({
          kind: 'connection',
          subject: id,
          name,
          did: 'made',
          after: { name, settings: given.settings },
        });
        return { id, ...(made ? { secret: made } : {}) };
      });
    },
  }),
  endpoint({
    method: 'POST',
    path: '/api/deliveries',
    right: 'edit',
    says: 'Send again what waits or has failed for a connection',
    body: sendAgainSchema,
    answers: 'How many',
    run: async ({ member: { siteId }, body: { connection, delivery } }) => {
      const again = await sendAgain(poolOf(siteId), siteId, { connection, id: delivery });
      return { again: again + (delivery ? 0 : await membersAgain(poolOf(siteId), siteId, connection)) };
    },
  }),
  endpoint({
    method: 'GET',
    path: '/api/segments/{id}/kept',
    right: 'look',
    says: 'Which connections keep a segment’s people, and how far that has got',
    answers: 'Counts, and all connections that keep people',
    run: async ({ member: { siteId }, params }) => {
      const db = poolOf(siteId);
      const [kept, all] = await Promise.all([listKept(db, siteId, { segment: params.id }), listConnections(db, siteId)]);
      return { kept, all: all.filter(({ kind }) => kindTakes(kind, 'segments')).map(({ id, name, kind }) => ({ id, name, kind })) };
    },
  }),
  endpoint({
    method: 'PUT',
    path: '/api/segments/{id}/kept',
    right: 'edit',
    says: 'Keep a segment in step with a connection, or take everybody out there',
    body: keptSchema,
    answers: 'Nothing more',
    run: async ({ member, body: { connection: to, is }, params: { id: segment } }) => {
      const { siteId } = member;
      return changing(member, async (db, note) => {
        const [found, connection] = [await findSegment(db, siteId, segment), await findConnection(db, siteId, to)];
        if (!found || !connection) throw new Refused(404, 'notFound', 'This segment or connection is not here any more');
        if (is && !kindTakes(connection.kind, 'segments'))
          throw new Refused(400, 'connection.takes', `connection: met ${connection.name}, expected one that keeps people`);
        if (is) await keepSegment(db, siteId, { id: newId('kept'), segment, connection: to });
        else await endKept(db, siteId, { segment, connection: to });
        await note({
          kind: 'segment',
          subject: segment,
          name: found.name,
          did: is ? `kept in step with ${connection.name}` : `no longer kept in step with ${connection.name}`,
        });
      });
    },
  }),
  endpoint({
    method: 'POST',
    path: '/api/segments/{id}/kept',
    right: 'edit',
    says: 'Compare at once who is in it with who is there',
    answers: 'How many connections are compared',
    run: async ({ member: { siteId }, params }) => ({
      compared: await compareNow(poolOf(siteId), siteId, { segment: params.id }),
    }),
  }),
] as const;
