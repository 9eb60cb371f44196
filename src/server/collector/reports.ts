import { LRUCache } from 'lru-cache';
import { z } from 'zod';
import type { Directory } from '../db/directory';
import { many } from '../db/queryable';
import { noteRefusal } from '../db/sites';
import type { KnownSite } from './collect';
import { parseBody } from './collect';

/** As `report-uri` sends it, and as the Reporting API does. */
const violation = z.object({ document: z.string().max(4000), blocked: z.string().max(4000), directive: z.string().max(100) });
const oldShape = z.object({ 'csp-report': z.record(z.string(), z.unknown()) }).transform(({ 'csp-report': report }) => ({
  document: report['document-uri'],
  blocked: report['blocked-uri'],
  directive: report['effective-directive'] ?? report['violated-directive'],
}));
const newShape = z
  .object({ type: z.literal('csp-violation'), body: z.record(z.string(), z.unknown()) })
  .transform(({ body }) => ({ document: body['documentURL'], blocked: body['blockedURL'], directive: body['effectiveDirective'] }));
const reports = z.union([
  oldShape.transform((one): unknown[] => [one]),
  z
    .array(z.unknown())
    .max(100)
    .transform((all) => all.flatMap((one) => newShape.safeParse(one).data ?? [])),
]);

/**
 * Notes what browsers say that a page's policy has kept away of ours; of anything else nothing is noted. `collector`: our own host as the page knows it.
 */
export async function notePolicyReports(directory: Directory, { site }: KnownSite, body: unknown, collector: string): Promise<void> {
  const parsed = reports.safeParse(parseBody(body));
  for (const one of parsed.data ?? []) {
    const { data } = violation.safeParse(one);
    if (!data || !URL.canParse(data.document) || !URL.canParse(data.blocked)) continue;
    const [page, blocked] = [new URL(data.document), new URL(data.blocked)];
    if (blocked.host !== collector || !site.addresses.includes(page.host)) continue;
    await noteRefusal(directory.of(site.id), site.id, 'policy', `${data.directive.split(' ')[0]} on ${page.pathname}`);
  }
}

const PART = /^(decide|show|chat|watch|extras|place)-[\w-]{9}\.js$/;
/** A cache that has an older script asks for its parts again and again. */
const NOTED_MS = 60_000;
const noted = new LRUCache<string, true>({ max: 1000, ttl: NOTED_MS });

/** A part that is not there any more is asked for by an older script, out of some cache: whoever has that page as an address hears of it. */
export async function noteOlderScript(directory: Directory, name: string, origin: string | undefined): Promise<void> {
  if (!PART.test(name) || origin === undefined || !URL.canParse(origin)) return;
  const { host } = new URL(origin);
  if (noted.has(host)) return;
  noted.set(host, true);
  const sites = await many<{ id: number }>(directory.home, `select id from site where addresses @> array[$1]::text[] limit 20`, [host]);
  for (const { id } of sites) await noteRefusal(directory.of(id), id, 'version', host);
}
