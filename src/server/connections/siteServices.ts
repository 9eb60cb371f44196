import { LRUCache } from 'lru-cache';
import type { Directory } from '../db/directory';
import { noteExchange } from '../db/connections';
import { many } from '../db/queryable';
import type { Locate } from '../location/locate';
import type { Asked } from './ask';
import type { AskedService, AskWeather, NoteAsked } from './services';
import { locateBy, weatherBy } from './services';

export interface Services {
  readonly locate: Locate;
  readonly askWeather: AskWeather;
}

interface Named {
  readonly id: string;
  readonly kind: AskedService;
  readonly url: string;
  readonly allowPrivate: boolean;
}

/** Of questions that go well one in so many ms is put on record. */
const EVERY_MS = 10_000;

/**
 * What a site's visitors are looked up with: the services among its own connections, and otherwise those that are named for all sites. What they are
 * asked, and what they answer, stands with the connection; of what goes well now and then one.
 */
export function createSiteServices(
  directory: Directory,
  { forAll, note }: { forAll: Services; note: NoteAsked },
): (siteId: number) => Promise<Services> {
  const made = new LRUCache<string, Locate | AskWeather>({ max: 1000 });
  const noted = new LRUCache<string, number>({ max: 1000 });

  const noteOf =
    (siteId: number, { id }: Named): NoteAsked =>
    (service, asked) => {
      note(service, asked);
      const now = Date.now();
      if (asked.outcome === 'answered' && now - (noted.get(`${siteId} ${id}`) ?? 0) < EVERY_MS) return;
      noted.set(`${siteId} ${id}`, now);
      const why = wordsOf(asked);
      void noteExchange(directory.of(siteId), siteId, id, { what: service, status: asked.status, tookMs: asked.tookMs, note: why }).catch(
        (cause: unknown) => console.error(`exchange with ${service}: ${String(cause)}`),
      );
    };

  function through<T extends Locate | AskWeather>(siteId: number, named: Named | undefined, other: T, make: (named: Named) => T): T {
    if (!named) return other;
    const key = JSON.stringify([siteId, named]);
    const kept = (made.get(key) as T | undefined) ?? make(named);
    made.set(key, kept);
    return kept;
  }

  return async (siteId) => {
    const named = await many<Named & Record<string, unknown>>(
      directory.of(siteId),
      `select id, kind, settings ->> 'url' as url, coalesce((settings ->> 'allowPrivate')::boolean, false) as "allowPrivate" from connection
        where site_id = $1 and kind in ('weather', 'location') order by lower(name), id`,
      [siteId],
    );
    const first = (kind: AskedService): Named | undefined => named.find((one) => one.kind === kind);
    return {
      locate: through(siteId, first('location'), forAll.locate, (one) =>
        locateBy(one.url, forAll.locate, noteOf(siteId, one), { allowPrivate: one.allowPrivate }),
      ),
      askWeather: through(siteId, first('weather'), forAll.askWeather, (one) =>
        weatherBy(one.url, noteOf(siteId, one), { allowPrivate: one.allowPrivate }),
      ),
    };
  };
}

const wordsOf = ({ outcome }: Asked): string =>
  ({
    answered: '',
    slow: 'it took too long: nobody waits for it',
    refused: 'it does not say',
    unreadable: 'it answered something that is not of the service',
    away: 'it is not there',
  })[outcome];
