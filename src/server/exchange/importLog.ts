import { createHash, createHmac } from 'node:crypto';
import { sourceOf } from '@/core/history/source';
import { VISIT_GAP_MS } from '@/core/history/visitor';
import { keepParameters } from '@/core/pages/parameters';
import { deviceOf } from '../collector/device';
import type { Database } from '../db/directory';
import { one } from '../db/queryable';
import type { Site } from '../db/sites';
import type { Locate } from '../location/locate';
import type { LoggedRequest } from './accessLog';
import { leftOutAs, parseLogLine } from './accessLog';
import { importVisitor } from './importVisits';
import type { VisitorLine } from './visitorLine';

export interface LogReport {
  lines: number;
  wrong: number;
  robots: number;
  assets: number;
  others: number;
  visitors: number;
  visits: number;
  views: number;
}

interface Hit {
  readonly at: number;
  readonly target: string;
  readonly referrer: string;
}

/**
 * Visits from an access log: robots, assets and failures out, people told apart by address and agent, a visit ended by half
 * an hour without a request. How far and how long somebody read a log does not tell: depth and engaged time are 0. Addresses
 * serve to tell people apart and to look places up, and are dropped. The same log again changes nothing.
 */
export async function importLog(
  pool: Database,
  site: Site,
  lines: AsyncIterable<string>,
  {
    origin,
    locate,
    onWrong,
    onVisitors,
  }: { origin: string; locate: Locate; onWrong: (line: number, wrong: string) => void; onVisitors?: (done: number, of: number) => void },
): Promise<LogReport> {
  const report: LogReport = { lines: 0, wrong: 0, robots: 0, assets: 0, others: 0, visitors: 0, visits: 0, views: 0 };
  const people = await gather(lines, report, onWrong);
  const { key } = await one<{ key: string }>(pool, `select import_key as key from site where id = $1`, [site.id]);
  await partitionsFor(pool, people);
  for (const [who, hits] of people) {
    const [address = '', agent = ''] = who.split('\n');
    const browser = uuidFrom(hits[0]?.at ?? 0, createHmac('sha256', key).update(who).digest());
    const line = visitorOf(
      browser,
      hits.sort((a, b) => a.at - b.at),
      { site, origin, agent, location: await locate(address) },
    );
    await importVisitor(pool, site.id, line);
    report.visitors++;
    report.visits += line.visits.length;
    report.views += hits.length;
    onVisitors?.(report.visitors, people.size);
  }
  return report;
}

async function gather(
  lines: AsyncIterable<string>,
  report: LogReport,
  onWrong: (line: number, wrong: string) => void,
): Promise<Map<string, Hit[]>> {
  const people = new Map<string, Hit[]>();
  for await (const line of lines) {
    report.lines++;
    if (line.trim() === '') continue;
    const request = parseLogLine(line);
    if ('wrong' in request) {
      report.wrong++;
      onWrong(report.lines, request.wrong);
      continue;
    }
    const as = leftOutAs(request);
    if (as === 'robot') report.robots++;
    else if (as === 'asset') report.assets++;
    else if (as === 'other') report.others++;
    else add(people, request);
  }
  return people;
}

function add(people: Map<string, Hit[]>, { address, agent, at, target, referrer }: LoggedRequest): void {
  const who = `${address}\n${agent}`;
  const hits = people.get(who);
  if (hits) hits.push({ at, target, referrer });
  else people.set(who, [{ at, target, referrer }]);
}

/** A log is mostly of months that have no partition yet. */
async function partitionsFor(pool: Database, people: ReadonlyMap<string, readonly Hit[]>): Promise<void> {
  const months = new Set<string>();
  for (const hits of people.values()) for (const { at } of hits) months.add(new Date(at).toISOString().slice(0, 7));
  for (const month of [...months].sort()) {
    // Where rows of the month lie in the default partition already, they stay there, and these join them.
    await pool.query(`select add_partitions($1)`, [`${month}-01`]).catch((cause: unknown) => {
      if ((cause as { code?: string }).code !== '23514') throw cause;
    });
  }
}

function visitorOf(
  browser: string,
  hits: readonly Hit[],
  { site, origin, agent, location }: { site: Site; origin: string; agent: string; location: Awaited<ReturnType<Locate>> },
): VisitorLine {
  const device = deviceOf(agent);
  const visits: Hit[][] = [];
  hits.forEach((hit, index) => {
    if (index > 0 && hit.at - (hits[index - 1]?.at ?? 0) <= VISIT_GAP_MS) visits.at(-1)?.push(hit);
    else visits.push([hit]);
  });
  return {
    visitor: browser,
    browser,
    visits: visits.map((own) => {
      const at = own[0]?.at ?? 0;
      const landing = origin + (own[0]?.target ?? '');
      const { utm, ...source } = sourceOf({
        url: landing,
        referrer: own[0]?.referrer ?? '',
        ownHosts: [...site.addresses, new URL(origin).host],
      });
      return {
        visit: uuidFrom(at, hashOf(browser, 'visit', at)),
        at,
        source: { ...source, utm: { ...utm } as Record<string, string> },
        device,
        ...(location ? { location: { ...location } } : {}),
        views: own.map((hit, index) => ({
          view: uuidFrom(hit.at, hashOf(browser, 'view', hit.at, hit.target, index)),
          at: hit.at,
          url: keepParameters(origin + hit.target, site.keptParameters),
          leave: Math.max(0, (own[index + 1]?.at ?? hit.at) - hit.at),
          signals: [],
          engaged: 0,
          scroll: 0,
        })),
        events: [],
      };
    }),
  };
}

const hashOf = (...parts: readonly (string | number)[]): Buffer => createHash('sha256').update(parts.join('\n')).digest();

/** A UUIDv7 of an instant whose random part is taken from a hash. */
function uuidFrom(at: number, hash: Buffer): string {
  const bytes = Buffer.concat([Buffer.alloc(6), hash.subarray(0, 10)]);
  bytes.writeUIntBE(Math.max(0, Math.floor(at)), 0, 6);
  bytes.writeUInt8((bytes.readUInt8(6) & 0x0f) | 0x70, 6);
  bytes.writeUInt8((bytes.readUInt8(8) & 0x3f) | 0x80, 8);
  return bytes.toString('hex').replace(/(.{8})(.{4})(.{4})(.{4})/, '$1-$2-$3-$4-');
}
