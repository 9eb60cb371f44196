import type { PortfolioReport } from '@/core/rehearsal/portfolio';
import type { Rehearsed } from '@/core/rehearsal/rehearsed';
import { startOf } from '@/core/flows/flow';
import { placeOf } from '@/core/messages/message';
import type { CampaignToRehearse } from '@/core/rehearsal/rehearse';
import { lintRule, lintSegment } from '@/core/rules/lint';
import { analyse } from '../analysis/analyse';
import { listCampaigns } from '../db/campaigns';
import { keepAnswer } from '../db/lastAnswers';
import { poolOf } from '../db/sharedPool';
import { findSite } from '../db/sites';
import { Refused } from '../http/refused';
import { answersSchema, lintSchema, portfolioSchema, recordedVisitsSchema, rehearseSchema } from '../http/requests';
import { loadLintContext } from '../lint/context';
import { NAME, ref } from '../openapi/shapes';
import { bytes, endpoint, lines } from './endpoint';

export const rehearseEndpoints = [
  lines({
    method: 'POST',
    path: '/api/campaigns/order/rehearse',
    right: 'look',
    says: 'Rehearse all live campaigns together',
    body: portfolioSchema,
    bodyShape: {
      type: 'object',
      properties: { campaigns: { type: 'array', items: { type: 'string' } }, budget: ref('Budget'), days: { enum: [7, 30, 90] } },
      required: ['campaigns', 'budget', 'days'],
      additionalProperties: false,
    },
    answers: 'Line by line, each in place of the one before: what each campaign shows together, alone, and what takes the rest',
    run: async ({ member: { siteId }, body: { campaigns: order, budget, days }, signal }) => {
      const all = await listCampaigns(poolOf(siteId), siteId);
      const live = all.filter(({ status, id }) => status === 'live' && order.includes(id));
      const campaigns = live
        .sort((a, b) => order.indexOf(a.id) - order.indexOf(b.id))
        .map(({ id, rule, flow }) => ({ id, rule, place: placeOf(startOf(flow)) }));
      const site = await findSite(poolOf(siteId), siteId);
      const isSaved = all.every(({ id }, index) => order[index] === id) && JSON.stringify(site?.budget) === JSON.stringify(budget);
      return async (emit: (part: PortfolioReport) => void) => {
        const report = await analyse({ kind: 'portfolio', site: siteId, campaigns, budget, days }, { signal, onPart: emit });
        // An order or a budget that is only tried is not what the list says the next time.
        if (isSaved) await keepAnswer(poolOf(siteId), siteId, { question: 'portfolio', answer: report });
        return report;
      };
    },
  }),
  endpoint({
    method: 'POST',
    path: '/api/lint',
    right: 'look',
    says: 'What is wrong with a rule or a segment, by what the site has on record',
    body: lintSchema,
    answers: 'Findings, each with its severity, the path of its node and, where there is one, the change that fixes it',
    run: async ({ member: { siteId }, body: asked }) => {
      const context = await loadLintContext(poolOf(siteId), siteId, Date.now());
      return { findings: 'rule' in asked ? lintRule(asked.rule, context) : lintSegment(asked.segment, context) };
    },
  }),
  endpoint({
    method: 'POST',
    path: '/api/rehearse/answers',
    right: 'look',
    says: 'What people conditions say of each view of such a snapshot',
    body: answersSchema,
    answers: 'For each condition its answers (base64), with page sets, budget and campaigns; whether the snapshot is still kept',
    run: async ({ member: { siteId }, body: { days, snapshot, conditions }, signal }) => {
      const [{ answers, ...told }, campaigns] = await Promise.all([
        analyse({ kind: 'answers', site: siteId, days, snapshot, conditions }, { signal }),
        listCampaigns(poolOf(siteId), siteId),
      ]);
      return {
        ...told,
        answers: answers.map((bytes) => bytes && Buffer.from(bytes).toString('base64')),
        campaigns: campaigns.map(({ id, status, rule, flow }) => ({ id, isLive: status === 'live', rule, place: placeOf(startOf(flow)) })),
      };
    },
  }),
  lines({
    method: 'POST',
    path: '/api/rehearse',
    right: 'look',
    says: 'Rehearse a rule over recorded visits',
    body: rehearseSchema,
    bodyShape: {
      type: 'object',
      properties: {
        campaign: NAME,
        place: { type: 'string', pattern: '^(overlay|top|bottom|corner|none|slot:.+)$' },
        rule: ref('Rule'),
        days: { enum: [7, 30, 90] },
        withOthers: { type: 'boolean', description: 'Among the live campaigns, in their order and under the budget' },
      },
      required: ['campaign', 'place', 'rule', 'days', 'withOthers'],
      additionalProperties: false,
    },
    answers: 'Line by line, each in place of the one before: counts, steps, every condition left out once, when and where it shows',
    run: async ({ member: { siteId }, body: { campaign, place, rule, days, withOthers }, signal }) => {
      const live = withOthers
        ? (await listCampaigns(poolOf(siteId), siteId))
            .filter(({ status, id }) => status === 'live' || id === campaign)
            .map((one): CampaignToRehearse => ({ id: one.id, rule: one.rule, place: placeOf(startOf(one.flow)) }))
        : [];
      return (emit: (part: Rehearsed) => void) =>
        analyse({ kind: 'rehearse', site: siteId, campaign: { id: campaign, place, rule }, days, live }, { signal, onPart: emit });
    },
  }),
  bytes({
    path: '/api/rehearse/visits',
    right: 'look',
    says: 'The recorded visits of the last days, to rehearse over in the browser',
    query: recordedVisitsSchema,
    answers: 'The length of the columns in four bytes, the columns, the visits’ ids; an entity tag names the snapshot',
    run: async ({ member: { siteId }, query: { days }, signal }) => {
      const { snapshot, columns, ids } = await analyse({ kind: 'recorded', site: siteId, days }, { signal });
      if (!columns || !ids)
        throw new Refused(413, 'visits.tooMany', 'There are more visits than a browser had better hold; rehearse them here');
      const length = new Uint8Array(4);
      new DataView(length.buffer).setUint32(0, columns.length);
      return { tag: snapshot, parts: [length, columns, ids] };
    },
  }),
] as const;
