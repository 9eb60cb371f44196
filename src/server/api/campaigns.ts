import { z } from 'zod';
import { campaignSchema } from '@/core/campaigns/campaign';
import type { CampaignStatus } from '@/core/campaigns/campaign';
import { upgradeCampaign } from '@/core/flows/upgrade';
import {
  boardOf,
  documentOf,
  findCampaign,
  insertCampaign,
  listCampaigns,
  orderCampaigns,
  setBoard,
  setCampaignStatus,
  setSchedule,
  updateCampaign,
} from '../db/campaigns';
import { changing } from '../db/changing';
import { newId } from '../db/ids';
import { withTransaction } from '../db/pool';
import { listPurposes, lockPurposeOf, makePurpose, renamePurpose, setPurpose, spreadShared } from '../db/purposes';
import { loadNames } from '../db/recorded';
import { findSite } from '../db/sites';
import { pool, poolOf } from '../db/sharedPool';
import { exportSite, importSite } from '../exchange/site';
import { may } from '../auth/rights';
import { listSitesOf } from '../db/members';
import { deleteStartingPoint, insertStartingPoint, listStartingPoints } from '../db/startingPoints';
import { moveToTrash } from '../db/trash';
import { Refused } from '../http/refused';
import {
  begunElsewhereSchema,
  elsewhereSchema,
  boardSchema,
  newPurposeSchema,
  newStartingPointSchema,
  orderSchema,
  purposeNameSchema,
  purposeOfSchema,
  scheduleSchema,
  statusSchema,
} from '../http/requests';
import { and, ref, REVISION } from '../openapi/shapes';
import { historyOf } from '../releases/history';
import { endpoint } from './endpoint';

const changedCampaignSchema = z.preprocess(upgradeCampaign, campaignSchema.safeExtend({ revision: z.int().min(1) }));

/** So much of a name is taken over by a copy, whose own says more. */
const LONGEST_COPIED = 180;

/** What a status by hand is in the log. */
const SAID: Readonly<Record<CampaignStatus, string>> = {
  live: 'switched on',
  draft: 'switched off',
  paused: 'paused',
  scheduled: 'scheduled',
  ended: 'ended',
};

export const campaignsEndpoints = [
  endpoint({
    method: 'GET',
    path: '/api/campaigns/{id}/board',
    right: 'look',
    says: 'How far the messages of a campaign were moved on its board',
    answers: '`moved`, by message, in pixels',
    run: async ({ member: { siteId }, params }) => {
      const moved = await boardOf(poolOf(siteId), siteId, params.id);
      if (!moved) throw new Refused(404, 'notFound', 'This campaign is not here any more');
      return { moved };
    },
  }),
  endpoint({
    method: 'PUT',
    path: '/api/campaigns/{id}/board',
    right: 'edit',
    says: 'Set it',
    body: boardSchema,
    answers: 'Nothing more',
    run: async ({ member: { siteId }, body: { moved }, params }) => {
      if (!(await setBoard(poolOf(siteId), siteId, params.id, moved)))
        throw new Refused(404, 'notFound', 'This campaign is not here any more');
    },
  }),
  endpoint({
    method: 'GET',
    path: '/api/campaigns/{id}/history',
    right: 'look',
    says: 'What was done to a campaign, and what each release made of it for visitors',
    answers: 'Lines, newest first',
    run: async ({ member: { siteId }, params: { id } }) => {
      const db = poolOf(siteId);
      if (!(await findCampaign(db, siteId, id))) throw new Refused(404, 'notFound', 'That campaign is not here any more');
      return { history: await historyOf(db, siteId, id, await loadNames(db, siteId)) };
    },
  }),
  endpoint({
    method: 'PUT',
    path: '/api/campaigns/{id}/purpose',
    right: 'edit',
    says: 'Joins a purpose, whose people, pages and success it takes over, or leaves the one it is of',
    body: purposeOfSchema,
    answers: 'Nothing more',
    run: async ({ member, body: { purpose }, params: { id } }) => {
      const { siteId } = member;
      return changing(member, async (db, note) => {
        await setPurpose(db, siteId, { campaign: id, purpose });
        const name = (await findCampaign(db, siteId, id))?.name ?? id;
        const did = purpose === null ? 'taken out of its purpose' : 'made one form of a purpose';
        await note({ kind: 'campaign', subject: id, name, did });
      });
    },
  }),
  endpoint({
    method: 'PUT',
    path: '/api/campaigns/{id}',
    right: 'edit',
    says: 'Save a campaign',
    body: changedCampaignSchema,
    bodyShape: and(ref('Campaign'), { revision: REVISION }),
    answers: 'Its new revision',
    run: async ({ member, body: { revision, ...document }, params: { id } }) => {
      const { siteId } = member;
      return changing(member, async (db, note) => {
        const before = await findCampaign(db, siteId, id);
        if (!before) throw new Refused(404, 'notFound', 'This campaign was deleted elsewhere. What you typed is still here.');
        const purpose = await lockPurposeOf(db, siteId, id);
        const saved = await updateCampaign(db, { siteId, id, document, revision });
        const others = purpose ? await spreadShared(db, siteId, { purpose, campaign: id, document }) : 0;
        await note({ kind: 'campaign', subject: id, name: document.name, did: 'changed', before: documentOf(before), after: document });
        return { revision: saved, others };
      });
    },
  }),
  endpoint({
    method: 'POST',
    path: '/api/campaigns/{id}',
    right: 'edit',
    says: 'Switch a campaign on or off',
    body: statusSchema,
    answers: 'Nothing more; visitors see it with the next release',
    run: async ({ member, body: { status }, params: { id } }) => {
      const { siteId } = member;
      return changing(member, async (db, note) => {
        await setCampaignStatus(db, siteId, id, status);
        const name = (await findCampaign(db, siteId, id))?.name ?? id;
        await note({ kind: 'campaign', subject: id, name, did: SAID[status] });
      });
    },
  }),
  endpoint({
    method: 'DELETE',
    path: '/api/campaigns/{id}',
    right: 'edit',
    says: 'Delete a campaign that is switched off',
    answers: 'Nothing more',
    run: async ({ member, params: { id } }) => {
      const { siteId } = member;
      return changing(member, async (db, note) => {
        const campaign = await findCampaign(db, siteId, id);
        if (campaign?.status === 'live') throw new Refused(409, 'campaign.live', 'It is switched on. Switch it off first.');
        await moveToTrash(db, 'campaign', siteId, id);
        if (campaign)
          await note({
            kind: 'campaign',
            subject: id,
            name: campaign.name,
            did: 'deleted',
            before: documentOf(campaign),
          });
      });
    },
  }),
  endpoint({
    method: 'POST',
    path: '/api/campaigns/{id}/copies',
    right: 'edit',
    says: 'A copy of a campaign, switched off, behind all others',
    answers: 'Its id and name',
    run: async ({ member, params: { id: from } }) => {
      const { siteId } = member;
      const id = newId('camp');
      return changing(member, async (db, note) => {
        const original = await findCampaign(db, siteId, from);
        if (!original) throw new Refused(404, 'notFound', 'This campaign was deleted elsewhere');
        const taken = (await listCampaigns(db, siteId)).map(({ name }) => name.toLowerCase());
        const named = (nth: number): string => `${original.name.slice(0, LONGEST_COPIED)}, copy${nth === 1 ? '' : ` ${nth}`}`;
        let nth = 1;
        while (taken.includes(named(nth).toLowerCase())) nth++;
        const document = { ...documentOf(original), name: named(nth) };
        await insertCampaign(db, { siteId, id, document });
        await note({ kind: 'campaign', subject: id, name: document.name, did: 'made', after: document });
        return { id, name: document.name };
      });
    },
  }),
  endpoint({
    method: 'POST',
    path: '/api/campaigns/{id}/copies/elsewhere',
    right: 'edit',
    says: 'A copy of a campaign at another site of one’s own, switched off, with the segments, page sets, places, goals and pictures that it names',
    body: elsewhereSchema,
    answers: 'How many of what came along',
    run: async ({ member, params: { id }, body: { site: to } }) => {
      const there = (await listSitesOf(pool(), member.id)).find((one) => one.id === to && may(one.role, 'edit'));
      if (!there) throw new Refused(404, 'notFound', `site: met ${to}, expected the number of another site that you may edit`);
      const from = await findSite(poolOf(member.siteId), member.siteId);
      if (!from) throw new Refused(404, 'notFound', 'The site is not there any more');
      const given = await exportSite(poolOf(from.id), from, { only: id });
      return changing({ ...member, siteId: to, role: there.role }, async (db, note) => {
        const site = await findSite(db, to);
        if (!site) throw new Refused(404, 'notFound', 'The site is not there any more');
        const { came } = await importSite(db, site, { ...given, pictures: [...given.pictures] });
        const name = given.campaigns[0]?.document.name ?? '';
        await note({ kind: 'setup', subject: 'import', name: `The campaign “${name}” of ${from.name}`, did: 'copied here' });
        return came;
      });
    },
  }),
  endpoint({
    method: 'PUT',
    path: '/api/campaigns/{id}/schedule',
    right: 'edit',
    says: 'When the campaign begins and ends by itself; null for neither',
    body: scheduleSchema,
    answers: 'Nothing more; pages hear of it when it comes',
    run: async ({ member, body: { startsAt, endsAt }, params: { id } }) => {
      const { siteId } = member;
      return changing(member, async (db, note) => {
        await setSchedule(db, siteId, id, {
          startsAt: startsAt === null ? null : new Date(startsAt),
          endsAt: endsAt === null ? null : new Date(endsAt),
        });
        const name = (await findCampaign(db, siteId, id))?.name ?? id;
        await note({
          kind: 'campaign',
          subject: id,
          name,
          did: 'scheduled',
          after: { startsAt, endsAt },
        });
      });
    },
  }),
  endpoint({
    method: 'PUT',
    path: '/api/campaigns/order',
    right: 'edit',
    says: 'Put all campaigns in an order',
    body: orderSchema,
    answers: 'Nothing more',
    run: async ({ member, body: { campaigns } }) => {
      const { siteId } = member;
      return changing(member, async (db, note) => {
        if (!(await orderCampaigns(db, siteId, campaigns)))
          throw new Refused(409, 'order.outdated', 'The campaigns have changed elsewhere; the list is shown anew, and nothing was moved.');
        await note({
          kind: 'setup',
          subject: 'order',
          name: 'the order of campaigns',
          did: 'changed',
          after: campaigns,
        });
      });
    },
  }),
  endpoint({
    method: 'POST',
    path: '/api/campaigns',
    right: 'edit',
    says: 'A new campaign, switched off',
    body: z.preprocess(upgradeCampaign, campaignSchema),
    bodyShape: ref('Campaign'),
    answers: 'Its id',
    run: async ({ member, body: document }) => {
      const { siteId } = member;
      const id = newId('camp');
      return changing(member, async (db, note) => {
        await insertCampaign(db, { siteId, id, document });
        await note({ kind: 'campaign', subject: id, name: document.name, did: 'made', after: document });
        return { id };
      });
    },
  }),
  endpoint({
    method: 'PUT',
    path: '/api/purposes/{id}',
    right: 'edit',
    says: 'Another name',
    body: purposeNameSchema,
    answers: 'Nothing more',
    run: async ({ member: { siteId }, body: { name }, params }) => {
      await renamePurpose(poolOf(siteId), siteId, { id: params.id, name });
    },
  }),
  endpoint({
    method: 'GET',
    path: '/api/purposes',
    right: 'look',
    says: 'Purposes, each with its campaigns',
    answers: 'Their names, and the names of the campaigns',
    run: async ({ member: { siteId } }) => listPurposes(poolOf(siteId), siteId),
  }),
  endpoint({
    method: 'POST',
    path: '/api/purposes',
    right: 'edit',
    says: 'A purpose made of what a campaign is for',
    body: newPurposeSchema,
    answers: 'Its id',
    run: async ({ member: { siteId }, body: { name, campaign } }) => {
      const id = newId('purp');
      await withTransaction(poolOf(siteId), (tx) => makePurpose(tx, siteId, { id, name, campaign }));
      return { id };
    },
  }),
  endpoint({
    method: 'DELETE',
    path: '/api/starting-points/{id}',
    right: 'edit',
    says: 'Takes it away; campaigns begun from it stay',
    answers: 'Nothing more',
    run: async ({ member: { siteId }, params }) => deleteStartingPoint(poolOf(siteId), siteId, params.id),
  }),
  endpoint({
    method: 'POST',
    path: '/api/starting-points/begun',
    right: 'edit',
    says: 'A campaign, switched off, from a starting point that is kept at another site of one’s own, with the segments, page sets, places, goals and pictures that it names',
    body: begunElsewhereSchema,
    answers: 'Its id',
    run: async ({ member, body: { site: from, point: id } }) => {
      const own = (await listSitesOf(pool(), member.id)).find((one) => one.id === from);
      const there = own && (await findSite(poolOf(from), from));
      if (!there) throw new Refused(404, 'notFound', `site: met ${from}, expected the number of a site of yours`);
      const point = (await listStartingPoints(poolOf(from), from)).find((one) => one.id === id);
      if (!point) throw new Refused(404, 'notFound', 'This starting point was taken away elsewhere');
      const given = await exportSite(poolOf(from), there, { only: point });
      return changing(member, async (db, note) => {
        const site = await findSite(db, member.siteId);
        if (!site) throw new Refused(404, 'notFound', 'The site is not there any more');
        // What this site’s looks are is not for a starting point to say.
        const { made } = await importSite(db, site, { ...given, brand: {}, budget: {}, pictures: [...given.pictures] });
        const [campaign = ''] = made;
        await note({ kind: 'setup', subject: 'import', name: `“${point.document.name}”, kept at ${there.name}`, did: 'copied here' });
        return { id: campaign };
      });
    },
  }),
  endpoint({
    method: 'POST',
    path: '/api/starting-points',
    right: 'edit',
    says: 'Keeps a campaign as it is, for others to begin from',
    body: newStartingPointSchema,
    answers: 'Its id',
    run: async ({ member: { siteId }, body: { campaign, use } }) => {
      const met = await findCampaign(poolOf(siteId), siteId, campaign);
      if (!met) throw new Refused(404, 'notFound', 'This campaign was deleted elsewhere');
      const document = documentOf(met);
      const id = newId('start');
      await insertStartingPoint(poolOf(siteId), siteId, { id, use, document });
      return { id };
    },
  }),
] as const;
