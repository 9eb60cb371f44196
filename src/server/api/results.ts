import { stringify } from 'csv-stringify/sync';
import type { ResultRow } from '@/core/results/report';
import { waysOf } from '@/core/results/ways';
import { dueMonday } from '@/core/results/weekly';
import { analyse } from '../analysis/analyse';
import { findCampaign, listCampaigns } from '../db/campaigns';
import { poolOf, readingOf } from '../db/sharedPool';
import { findSite } from '../db/sites';
import { CSV, download, harmless } from '../http/downloads';
import { Refused } from '../http/refused';
import { overviewQuerySchema, resultsQuerySchema, resultsTableSchema, weeklySchema, zoneQuerySchema } from '../http/requests';
import { canMail, sendMail } from '../mail/mailer';
import { campaignsMet } from '../results/all';
import { campaignOverview, campaignResults } from '../results/report';
import { loadWays } from '../results/ways';
import { stopWeekly, wantsWeekly, wantWeekly, weeklyOf } from '../results/weekly';
import { endpoint, file } from './endpoint';

const DAYS = 30;

const COLUMNS = [
  'campaign',
  'by',
  'value',
  'met',
  'shown',
  'successes',
  'rate',
  'rate_low',
  'rate_high',
  'value_mean',
  'against',
  'difference',
  'span_low',
  'span_high',
  'looks',
  'control',
  'control_met',
  'control_successes',
  'variant',
];

const line = (
  campaign: string,
  by: string,
  { value, variant, met, shown, successes, rate, interval, valueMean, against, control }: ResultRow,
): unknown[] => [
  harmless(campaign),
  by,
  harmless(value),
  met,
  shown,
  successes,
  rate,
  interval?.[0],
  interval?.[1],
  valueMean,
  against?.value,
  against?.difference,
  against?.span[0],
  against?.span[1],
  against?.looks,
  control?.value,
  control?.met,
  control?.successes,
  variant === undefined ? undefined : harmless(variant),
];

export const resultsEndpoints = [
  endpoint({
    method: 'GET',
    path: '/api/campaigns/{id}/foretold',
    right: 'look',
    says: 'Of the last whole days what the release in force gives over the recorded visits, beside what came',
    query: zoneQuerySchema,
    answers: 'Days, oldest first, with the reasons of those that differ by more than 2 %',
    run: async ({ member: { siteId }, query: { zone }, params, signal }) => {
      const campaign = await findCampaign(poolOf(siteId), siteId, params.id);
      if (!campaign) throw new Refused(404, 'notFound', 'That campaign is not here any more');
      return {
        days: await analyse({ kind: 'foretold', site: siteId, campaign: campaign.id, days: DAYS, zone }, { signal }),
      };
    },
  }),
  endpoint({
    method: 'GET',
    path: '/api/campaigns/{id}/results',
    right: 'look',
    says: 'What a campaign came to, of the visitors who first met it in a period',
    query: resultsQuerySchema,
    answers: 'Counts, rates with intervals, differences with spans, steps, and how the difference became known',
    run: async ({ member: { siteId }, query: { zone, by, points, ...period }, params }) => {
      const now = Date.now();
      const db = await (await readingOf(siteId)).caughtUp();
      const campaign = await findCampaign(db, siteId, params.id);
      if (!campaign) throw new Refused(404, 'notFound', 'That campaign is not here any more');
      return campaignResults(db, siteId, campaign, { ...period, now, zone, by, points });
    },
  }),
  endpoint({
    method: 'GET',
    path: '/api/campaigns/{id}/overview',
    right: 'look',
    says: 'What a campaign came to in a period, with the difference since it last became another',
    query: overviewQuerySchema,
    answers: 'Counts and rates of the period; differences with spans since the campaign last became another',
    run: async ({ member: { siteId }, query: { from, zone }, params }) => {
      const db = await (await readingOf(siteId)).caughtUp();
      const campaign = await findCampaign(db, siteId, params.id);
      if (!campaign) throw new Refused(404, 'notFound', 'That campaign is not here any more');
      return campaignOverview(db, siteId, campaign, { from, now: Date.now(), zone });
    },
  }),
  endpoint({
    method: 'GET',
    path: '/api/campaigns/{id}/ways',
    right: 'look',
    says: 'How many showings went which way through a campaign’s messages',
    query: resultsQuerySchema,
    answers: 'Showings by message, from one to another, and how they ended',
    run: async ({ member: { siteId }, query: { from, to }, params }) => {
      const db = await (await readingOf(siteId)).caughtUp();
      const campaign = await findCampaign(db, siteId, params.id);
      if (!campaign) throw new Refused(404, 'notFound', 'That campaign is not here any more');
      const { flow, variants = [] } = campaign;
      const taken = await loadWays(db, siteId, { campaign: campaign.id, from: from ?? 0, to: to ?? Date.now() });
      return waysOf(taken, (variant) => variants.find(({ name }) => name === variant)?.start ?? flow.start);
    },
  }),
  endpoint({
    method: 'GET',
    path: '/api/results/weekly',
    right: 'self',
    says: 'Whether whoever asks gets the week’s results by mail',
    answers: 'Whether, to which address, and whether mail can be sent',
    run: async ({ member: { id, siteId, email } }) => ({
      wants: await wantsWeekly(poolOf(siteId), siteId, id),
      email,
      canMail: canMail(),
    }),
  }),
  endpoint({
    method: 'PUT',
    path: '/api/results/weekly',
    right: 'self',
    says: 'Ask for the week’s results by mail, or stop them',
    body: weeklySchema,
    answers: 'Nothing more',
    run: async ({ member: { id, siteId }, body: { wants, zone } }) => {
      if (wants) await wantWeekly(poolOf(siteId), siteId, { memberId: id, zone, now: Date.now() });
      else await stopWeekly(poolOf(siteId), siteId, id);
    },
  }),
  endpoint({
    method: 'POST',
    path: '/api/results/weekly',
    right: 'self',
    says: 'Mail last week’s results to oneself now',
    body: weeklySchema.pick({ zone: true }),
    answers: 'The address',
    run: async ({ member: { id, siteId, email }, body: { zone } }) => {
      if (!canMail()) throw new Refused(409, 'mail.none', 'No mail server is named yet: CRINDLE_MAIL_URL names one');
      if (!(await findSite(poolOf(siteId), siteId))) throw new Refused(404, 'notFound', 'That site is not here any more');
      const mail = await weeklyOf(poolOf(siteId), siteId, { to: email, memberId: id, zone, monday: dueMonday(zone, Date.now()) });
      await sendMail(mail).catch((cause: unknown) => {
        throw new Refused(
          502,
          'mail.refused',
          `The mail server did not take it: ${cause instanceof Error ? cause.message : String(cause)}`,
        );
      });
      return { to: email };
    },
  }),
  file({
    path: '/results.csv',
    right: 'export',
    says: 'Every table of a campaign’s results; without a campaign the versions of each that was met',
    type: 'text/csv',
    query: resultsTableSchema,
    answers: 'CSV (RFC 4180)',
    run: async ({ member: { siteId }, query: { campaign: id, zone, by: further, ...period } }) => {
      const now = Date.now();
      const db = await (await readingOf(siteId)).caughtUp();
      const chosen = id === undefined ? undefined : await findCampaign(db, siteId, id);
      if (id !== undefined && !chosen) throw new Refused(404, 'notFound', 'That campaign is not here any more');
      const met = chosen ? [] : await campaignsMet(db, siteId, period.from ?? 0);
      const all = chosen ? [chosen] : (await listCampaigns(db, siteId)).filter((one) => met.some(({ id: other }) => other === one.id));
      const lines: unknown[][] = [];
      for (const campaign of all) {
        const { rows, by, steps } =
          !chosen && period.from !== undefined
            ? await campaignOverview(db, siteId, campaign, { from: period.from, to: period.to, now, zone })
            : await campaignResults(db, siteId, campaign, { ...period, now, zone, by: further });
        lines.push(...rows.map((row) => line(campaign.name, 'variant', row)));
        lines.push(...steps.map(({ step, visitors }) => [harmless(campaign.name), 'step', step, visitors]));
        if (chosen) lines.push(...by.flatMap((table) => table.rows.map((row) => line(campaign.name, table.by, row))));
      }
      return download('results.csv', 'text/csv', stringify(lines, { ...CSV, columns: COLUMNS }));
    },
  }),
] as const;
