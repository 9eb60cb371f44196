import { writeFileSync } from 'node:fs';
import type { Dimension } from '@/core/results/report';
import { DIMENSIONS, reportOn } from '@/core/results/report';
import { USUAL_PLAN } from '@/core/results/span';
import { optionsFor } from '@/core/results/whole';
import { isZone } from '@/core/time/localTime';
import type { ForetoldDay } from '@/core/results/foretold';
import { SiteMemory } from '@/server/analysis/site';
import { work } from '@/server/analysis/work';
import { ReadSide } from '@/server/db/readSide';
import { findCampaign } from '@/server/db/campaigns';
import { findSegment } from '@/server/db/segments';
import { loadMet, loadSplits } from '@/server/results/load';
import { periodOf, visitorLine } from '@/server/results/report';
import { instantOption, readOptions, required, Usage } from './options';
import { withSite } from './site';

function byOption(text: string | undefined): Dimension {
  if (text === undefined) return 'variant';
  const known = DIMENSIONS.find((by) => by === text);
  if (known) return known;
  if (/^segment:.+/.test(text)) return text as Dimension;
  throw new Usage(`--by: met ${text}, expected one of ${DIMENSIONS.join(', ')}, segment:ID`);
}

/** `results --site KEY --campaign ID [--from ISO] [--to ISO] [--by …] [--zone NAME] [--at ISO] [--visitors OUT]` */
export async function resultsCommand(words: readonly string[]): Promise<object> {
  const { option } = readOptions(words, { values: ['--site', '--campaign', '--from', '--to', '--by', '--zone', '--at', '--visitors'] });
  const now = instantOption('--at', option('--at'), Date.now());
  const instantOf = (name: '--from' | '--to'): number | undefined => (option(name) ? instantOption(name, option(name), 0) : undefined);
  const asked = { from: instantOf('--from'), to: instantOf('--to') };
  if ((asked.from ?? 0) >= (asked.to ?? now)) throw new Usage(`--to: met ${option('--to') ?? 'now'}, expected an instant after --from`);
  const by = byOption(option('--by'));
  const zone = option('--zone') ?? 'UTC';
  if (!isZone(zone)) throw new Usage(`--zone: met ${zone}, expected the name of a time zone such as Europe/Vienna`);
  const id = required('--campaign', option('--campaign'));
  return withSite(option('--site'), async (pool, site, server) => {
    const started = performance.now();
    const campaign = await findCampaign(pool, site.id, id);
    if (!campaign) throw new Usage(`--campaign: met ${id}, expected the id of a campaign of the site`);
    const asks = by.startsWith('segment:') ? by.slice('segment:'.length) : undefined;
    if (asks !== undefined && !(await findSegment(pool, site.id, asks)))
      throw new Usage(`--by: met segment:${asks}, expected the id of a segment of the site`);
    const { splits, starts } = await loadSplits(pool, site.id, id);
    const { from, to, looks, since } = periodOf(asked, { starts }, now);
    const visitors = await loadMet(pool, site.id, { campaign: id, goal: campaign.goal, from, to, now, segment: asks });
    const { rows, dismissed, ...report } = reportOn(visitors, {
      ...optionsFor(
        { goal: campaign.goal, variants: (campaign.variants ?? []).map(({ name }) => name) },
        { now, zone, splits, planned: USUAL_PLAN, looks },
      ),
      by,
    });
    const foretold = await foretoldOf(new SiteMemory(new ReadSide(server), site.id), { campaign: id, site: site.id, zone });
    const out = option('--visitors');
    if (out) writeFileSync(out, visitors.map((visitor) => `${visitorLine(visitor)}\n`).join(''));
    return {
      campaign: id,
      from,
      to,
      since,
      ...report,
      dismissed,
      goal: campaign.goal,
      rows: rows.map(({ valueMean, ...row }) => ({ ...row, value_mean: valueMean })),
      foretold: foretold.map(({ day, rehearsed, met }) => ({ day, rehearsed, met })),
      ms: Math.round(performance.now() - started),
    };
  });
}

/** Of the last whole days what the release in force gives over the recorded visits, beside what came. */
async function foretoldOf(memory: SiteMemory, asked: { campaign: string; site: number; zone: string }): Promise<readonly ForetoldDay[]> {
  let days: readonly ForetoldDay[] = [];
  for await (const part of work(memory, { kind: 'foretold', days: 30, ...asked }))
    days = (part as readonly ForetoldDay[] | undefined) ?? days;
  return days;
}
