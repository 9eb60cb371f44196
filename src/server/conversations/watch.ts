import type pg from 'pg';
import type { Announcements } from '../db/announcements';
import { listenForAnnouncements } from '../db/announcements';
import type { Queryable } from '../db/queryable';
import { one } from '../db/queryable';

/** Where announcements may be missed it is looked so often, and otherwise now and then. */
const [LOOK_MS, LOOK_SURE_MS] = [1_000, 10_000];

/** Without a thread something may have been missed; `writes`: nothing has changed but that the visitor is writing. */
type Tell = (thread?: string, writes?: boolean) => void;

/** Tells who watches a site's conversations that something in them has changed. */
export class Watching {
  readonly #of: (siteId: number) => Queryable;
  readonly #sites = new Map<number, { readonly told: Set<Tell>; mark: string; lookedAt: number }>();
  readonly #announcements: Announcements;
  #timer: NodeJS.Timeout | undefined;

  constructor(home: pg.Pool, of: (siteId: number) => Queryable, connect: () => pg.Client) {
    this.#of = of;
    this.#announcements = listenForAnnouncements(home, {
      connect,
      heard: () => undefined,
      talked: (siteId, thread) => {
        if (siteId === undefined) this.#sites.forEach((site) => (site.lookedAt = 0));
        else this.#sites.get(siteId)?.told.forEach((tell) => tell(thread));
      },
      writes: (siteId, thread, by) => by === 'visitor' && this.#sites.get(siteId)?.told.forEach((tell) => tell(thread, true)),
    });
  }

  /** Gives what ends it. */
  watch(siteId: number, tell: Tell): () => void {
    const site = this.#sites.get(siteId) ?? { told: new Set<Tell>(), mark: '', lookedAt: 0 };
    this.#sites.set(siteId, site);
    site.told.add(tell);
    this.#timer ??= setInterval(() => void this.#look(), LOOK_MS);
    return () => {
      site.told.delete(tell);
      if (site.told.size === 0) this.#sites.delete(siteId);
      if (this.#sites.size > 0) return;
      clearInterval(this.#timer);
      this.#timer = undefined;
    };
  }

  /** Lets go of its connection; nobody is told any more. */
  async end(): Promise<void> {
    clearInterval(this.#timer);
    this.#sites.clear();
    await this.#announcements.end();
  }

  async #look(): Promise<void> {
    const now = Date.now();
    for (const [siteId, site] of this.#sites) {
      if (now - site.lookedAt < (this.#announcements.isSure() ? LOOK_SURE_MS : LOOK_MS)) continue;
      site.lookedAt = now;
      try {
        const { mark } = await one<{ mark: string }>(
          this.#of(siteId),
          `select concat_ws(' ', max(last_at), sum(last_seq + team_seen + visitor_seen), count(*) filter (where state = 'open')) as mark from thread where site_id = $1`,
          [siteId],
        );
        if (site.mark !== '' && site.mark !== mark) site.told.forEach((tell) => tell());
        site.mark = mark;
      } catch (cause) {
        console.error(`conversations: ${String(cause)}`);
      }
    }
  }
}
