import type { Queryable } from '../db/queryable';
import { many } from '../db/queryable';
import type { RecordedVisit } from '../db/visits';
import { listVisits } from '../db/visits';

/** Whoever gave a sign of life in the last minutes counts as being there, unless their last page was left or hidden: another one comes at once, or none. */
const NOW_MINUTES = 5;
const LEFT_S = 10;
const MOST_VISITS = 24;
const MOST_HAPPENINGS = 40;
const LOOK_EVERY_MS = 2000;

export interface Happening {
  readonly id: string;
  readonly at: number;
  readonly kind: 'shown' | 'held back' | 'clicked' | 'dismissed' | 'converted' | 'replied' | 'event';
  /** The campaign's or the event's name. */
  readonly subject: string;
  readonly campaign: string | null;
  readonly visitor: number;
  readonly path: string | null;
}

/** What an event stream says: at first everything, then what has changed since it last said something. */
export interface LiveNews {
  /** The server's clock, UTC ms. */
  readonly at: number;
  readonly people: number;
  /** Ids of the visits under way, the last sign of life first. */
  readonly order: readonly string[];
  readonly changed: readonly RecordedVisit[];
  readonly pages: readonly { readonly path: string; readonly people: number }[];
  readonly happenings: readonly Happening[];
}

interface Look extends Omit<LiveNews, 'changed'> {
  readonly visits: readonly RecordedVisit[];
}

async function look(db: Queryable, siteId: number, now: number): Promise<Look> {
  // Before the visits: what is told to have happened did so in a visit that is listed, too.
  const happenings = await listHappenings(db, siteId, now);
  const there = await many<{ id: string; url: string | null }>(
    db,
    `select visit.id, last.url
       from visit left join lateral (
         select page_view.id, url from page_view where page_view.site_id = $1 and visit_id = visit.id order by at desc limit 1) as last on true
       left join lateral (
         select signals -> -1 ->> 's' as said from signal_piece where signal_piece.site_id = $1 and view_id = last.id order by piece desc limit 1) as ended on true
      where site_id = $1 and last_at > at_ms($3) - make_interval(mins => $2) and started_at > at_ms($3) - interval '1 day'
        and (ended.said is distinct from 'hide' or last_at > at_ms($3) - make_interval(secs => ${LEFT_S}))
      order by last_at desc, id`,
    [siteId, NOW_MINUTES, now],
  );
  const order = there.slice(0, MOST_VISITS).map(({ id }) => id);
  const visits = order.length ? await listVisits(db, siteId, { limit: order.length, visitIds: order }) : [];
  const pages = new Map<string, number>();
  for (const { url } of there) if (url) pages.set(pathOf(url), (pages.get(pathOf(url)) ?? 0) + 1);
  return {
    at: now,
    people: there.length,
    order,
    visits,
    pages: [...pages]
      .map(([path, people]) => ({ path, people }))
      .sort((a, b) => b.people - a.people || (a.path < b.path ? -1 : 1))
      .slice(0, 8),
    happenings,
  };
}

async function listHappenings(db: Queryable, siteId: number, now: number): Promise<Happening[]> {
  return many<Happening & Record<string, unknown>>(
    db,
    `select every.id, ms(every.at)::float8 as at, kind, coalesce(campaign.name, subject) as subject, campaign.id as campaign, every.visitor_id as visitor,
            regexp_replace(split_part(split_part(url, '#', 1), '?', 1), '^https?://[^/]+', '') as path
       from (select id::text, at, case when shown then 'shown' else 'held back' end as kind, campaign_id as subject, visitor_id, view_id
               from showing where site_id = $1 and at > at_ms($2) - interval '1 hour' and not (shown and unseen)
             union all
             select outcome.showing_id::text || outcome.kind, outcome.at, kind, campaign_id, visitor_id, view_id
               from outcome join showing on showing.site_id = $1 and showing.id = showing_id
              where outcome.site_id = $1 and outcome.at > at_ms($2) - interval '1 hour'
             union all
             select id::text, at, 'event', name, visitor_id, view_id from event where site_id = $1 and at > at_ms($2) - interval '1 hour'
             order by at desc limit ${MOST_HAPPENINGS}) as every
       left join campaign on campaign.site_id = $1 and campaign.id = subject
       left join page_view on page_view.site_id = $1 and page_view.id = view_id
      order by every.at desc, every.id`,
    [siteId, now],
  );
}

const pathOf = (url: string): string => (URL.canParse(url) ? new URL(url).pathname : url);

export interface Listener {
  readonly onNews: (news: LiveNews) => void;
  /** The database cannot be asked; it is tried again. */
  readonly onTrouble: (cause: unknown) => void;
}

interface Watched {
  readonly listeners: Map<Listener, ReadonlyMap<string, string>>;
  timer: ReturnType<typeof setTimeout> | undefined;
}

/** Looks at each site once every two seconds for all who listen to it, and tells each what is new to them. */
export class LiveSites {
  readonly #databaseOf: (siteId: number) => Queryable;
  readonly #clock: () => number;
  readonly #everyMs: number;
  readonly #sites = new Map<number, Watched>();

  /** `clock` gives UTC ms; `everyMs` is how long lies between two looks at a site. */
  constructor(databaseOf: (siteId: number) => Queryable, { clock, everyMs = LOOK_EVERY_MS }: { clock: () => number; everyMs?: number }) {
    this.#databaseOf = databaseOf;
    this.#clock = clock;
    this.#everyMs = everyMs;
  }

  /** Returns what ends the listening. */
  listen(siteId: number, listener: Listener): () => void {
    const watched: Watched = this.#sites.get(siteId) ?? { listeners: new Map(), timer: undefined };
    this.#sites.set(siteId, watched);
    watched.listeners.set(listener, new Map());
    clearTimeout(watched.timer);
    void this.#lookAgain(siteId, watched);
    return () => {
      watched.listeners.delete(listener);
      if (watched.listeners.size > 0) return;
      clearTimeout(watched.timer);
      if (this.#sites.get(siteId) === watched) this.#sites.delete(siteId);
    };
  }

  async #lookAgain(siteId: number, watched: Watched): Promise<void> {
    try {
      const { visits, ...rest } = await look(this.#databaseOf(siteId), siteId, this.#clock());
      const texts = new Map(visits.map((visit) => [visit.id, JSON.stringify(visit)]));
      for (const [listener, known] of watched.listeners) {
        watched.listeners.set(listener, texts);
        listener.onNews({ ...rest, changed: visits.filter(({ id }) => known.get(id) !== texts.get(id)) });
      }
    } catch (cause) {
      for (const listener of watched.listeners.keys()) listener.onTrouble(cause);
    }
    if (watched.listeners.size === 0) return;
    clearTimeout(watched.timer);
    watched.timer = setTimeout(() => void this.#lookAgain(siteId, watched), this.#everyMs);
  }
}
