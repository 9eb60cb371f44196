import { LRUCache } from 'lru-cache';
import type { VisitorRecord } from '@/core/history/record';
import { issueWords, parseWith } from '@/core/parsing/parse';
import type { Judge, Judged } from '@/core/tryout/asked';
import { tryRequestSchema } from '@/core/tryout/asked';
import { cookiesAsked, draftRelease, judge } from '@/core/tryout/judge';
import { parseBody } from '../collector/collect';
import { deviceOf } from '../collector/device';
import type { Services } from '../connections/siteServices';
import type { Database, Directory } from '../db/directory';
import { hashOf } from '../db/releases';
import { setTeam } from '../db/team';
import { beginTryout, endTryout, findTryout, notePointed } from '../db/tryouts';
import { loadVisitors } from '../db/visitors';
import { choicesFor } from './choices';
import type { LoadedDraft } from './draft';
import { draftLoader } from './draft';
import { countOnRecord } from './onRecord';

/** Nothing was done; the page that asked is told nothing else of why. */
export class NotTrying extends Error {
  constructor(
    readonly status: 400 | 401,
    readonly code: string,
    message: string,
  ) {
    super(message);
  }
}

const OVER = (): NotTrying => new NotTrying(401, 'tryout.over', 'There is no such try-out, or it is over');
/** Of a history that is longer than any person's the newest counts. */
const MOST_JUDGED = 2000;
const RECORD_KEPT_MS = 60_000;

export interface Asking {
  readonly body: unknown;
  readonly ip: string;
  readonly userAgent: string;
}

/** Answers what the docks of try-outs ask. Writes nothing of what is done there. @throws NotTrying, and what the database throws */
export function createTryouts({
  directory,
  servicesOf,
  clock,
}: {
  directory: Directory;
  servicesOf: (siteId: number) => Promise<Services>;
  clock: () => number;
}): (asking: Asking) => Promise<unknown> {
  const loadDraft = draftLoader(clock);
  const records = new LRUCache<string, { readonly record: VisitorRecord | undefined }>({ max: 200, ttl: RECORD_KEPT_MS });

  async function recordOf(db: Database, siteId: number, visitor: number | undefined): Promise<VisitorRecord | undefined> {
    if (visitor === undefined) return undefined;
    const key = `${siteId} ${visitor}`;
    const known = records.get(key);
    if (known) return known.record;
    const record = (await loadVisitors(db, siteId, [visitor], { most: MOST_JUDGED }))[0]?.record;
    records.set(key, { record });
    return record;
  }

  // A site of five hundred campaigns takes a tenth of a second to put together, and is asked of once a second.
  const made = new WeakMap<object, LRUCache<string, ReturnType<typeof draftRelease> & { readonly hash: string }>>();
  function compiled(draft: LoadedDraft, pretend: Judge['pretend']) {
    let of = made.get(draft);
    if (!of) made.set(draft, (of = new LRUCache({ max: 20 })));
    const { segments, takes, variants } = pretend;
    const key = JSON.stringify([segments, takes, variants]);
    let known = of.get(key);
    if (!known) {
      const fresh = draftRelease(draft, pretend);
      of.set(key, (known = { ...fresh, hash: hashOf(fresh.release) }));
    }
    return known;
  }

  async function judged(siteId: number, asked: Judge, { ip, userAgent }: Asking): Promise<Judged> {
    const db = directory.of(siteId);
    const { locate, askWeather } = await servicesOf(siteId);
    const [draft, recorded, located] = await Promise.all([loadDraft(db, siteId), recordOf(db, siteId, asked.pretend.visitor), locate(ip)]);
    const { release, facts, hash } = compiled(draft, asked.pretend);
    const place = asked.pretend.place ?? recorded?.visits.at(-1)?.location ?? located;
    const { lat, lon } = place ?? {};
    const asksWeather = asked.pretend.weather === undefined && lat !== undefined && lon !== undefined;
    const weather = asked.pretend.weather ?? (asksWeather ? await askWeather({ lat, lon }, asked.now) : undefined);
    const device = deviceOf(userAgent);
    const found = { place, weather, device };
    const answer = judge(draft, facts, release.values, { asked, recorded, found: { ...found, ...asked.knows } });
    return {
      ...answer,
      release: { number: release.number, hash },
      ...(asked.has === hash ? {} : { document: release }),
      draftAt: draft.at,
      found,
      cookies: cookiesAsked(draft),
    };
  }

  return async (asking) => {
    const parsed = parseWith(tryRequestSchema, parseBody(asking.body));
    if (!parsed.ok) throw new NotTrying(400, 'tryout.malformed', parsed.issues.map(issueWords).join('; '));
    const asked = parsed.value;
    if (asked.kind === 'begin') {
      const begun = await beginTryout(directory.home, asked.key, asked.ticket);
      if (!begun) throw OVER();
      const { token, campaign, wants } = begun;
      return { token, campaign, wants };
    }
    const tryout = await findTryout(directory.home, asked.key, asked.token);
    if (!tryout) throw OVER();
    const { siteId } = tryout;
    switch (asked.kind) {
      case 'judge':
        return judged(siteId, asked, asking);
      case 'choices':
        return { choices: await choicesFor(directory.of(siteId), siteId, asked) };
      case 'ours':
        return setTeam(directory.of(siteId), siteId, asked);
      case 'recorded':
        return { counts: await countOnRecord(directory.of(siteId), siteId, { could: asked.could, now: clock() }) };
      case 'pointed':
        await notePointed(directory.home, tryout.id, asked.picked);
        return { ok: true };
      case 'leave':
        await endTryout(directory.home, tryout.id);
        return { ok: true };
    }
  };
}
