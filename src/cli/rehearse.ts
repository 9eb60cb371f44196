import { writeFileSync } from 'node:fs';
import type { CampaignToRehearse } from '@/core/rehearsal/rehearse';
import { reportOn } from '@/core/rehearsal/report';
import { startOf } from '@/core/flows/flow';
import { placeOf } from '@/core/messages/message';
import { listCampaigns } from '@/server/db/campaigns';
import { loadRehearsal } from '@/server/rehearsal/load';
import { readDocument } from './documents';
import { instantOption, readOptions, required, Usage, wholeNumber } from './options';
import { withSite } from './site';
import { DAY_MS } from '@/core/time/day';

/** `rehearse --site KEY --rule FILE [--days N] [--at ISO] [--showings OUT] [--with-live]` */
export async function rehearseCommand(words: readonly string[]): Promise<object> {
  const { option, has } = readOptions(words, { values: ['--site', '--rule', '--days', '--at', '--showings'], flags: ['--with-live'] });
  const days = wholeNumber('--days', option('--days'), { least: 1, most: 540, otherwise: 30 });
  const until = instantOption('--at', option('--at'), Date.now());
  const document = readDocument(required('--rule', option('--rule')));
  if (document.kind !== 'rule') throw new Usage('--rule: met a segment, expected a display rule');
  return withSite(option('--site'), async (pool, site) => {
    const { columns, origin, judge, sets } = await loadRehearsal(pool, site.id, { since: until - days * DAY_MS, until });
    const campaigns = has('--with-live') ? await listCampaigns(pool, site.id) : [];
    const live = campaigns
      .filter(({ status }) => status === 'live')
      .map(({ id, rule, flow }): CampaignToRehearse => ({ id, rule, place: placeOf(startOf(flow)) }));
    const started = performance.now();
    const rehearsed = { id: 'rehearsed', place: 'overlay' as const, rule: document.rule };
    const report = reportOn(rehearsed, { columns, judge, sets, live, ...(has('--with-live') ? { budget: site.budget } : {}) });
    const ms = Math.round(performance.now() - started);
    const out = option('--showings');
    if (out) {
      const lines = report.showings.map(({ visit, view, at }) => {
        const from = origin.visitors.at(origin.visitor[visit] as number);
        const nth = origin.visit[visit] as number;
        return JSON.stringify({
          visitor: from?.id,
          visit: from?.visitIds[nth],
          view: from?.viewIds[nth]?.[origin.view[view] as number],
          at,
        });
      });
      writeFileSync(out, lines.map((line) => `${line}\n`).join(''));
    }
    return {
      visitors: report.visitors,
      visits: report.visits,
      views: report.views,
      sure: report.sure,
      possible: report.possible,
      steps: report.steps.map(({ what, left }) => ({ what, left })),
      without: report.without.map(({ path, showings }) => ({ path: path.join('.'), showings })),
      ...(has('--with-live') ? { collisions: report.collisions } : {}),
      ms,
    };
  });
}
