import type { FastifyInstance } from 'fastify';
import type { BatchAnswer } from '@/core/wire/items';
import { createCollector } from '../collector/server';
import { many } from '../db/queryable';
import type { Site } from '../db/sites';
import { createSite } from '../db/sites';
import type { FreshDatabase } from './freshDatabase';
import { freshDatabase } from './freshDatabase';
import { newUuid, openItem } from './items';

/** The collector's clock in tests, UTC ms. */
export const NOW = Date.parse('2026-11-26T10:00:00Z');
export const KEY = 'sitekey123';
const DESKTOP = 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0.0.0 Safari/537.36';
const none = (): never => undefined as never;
/** Of the page script nothing is asked. */
export const parts = { sendEntry: none, sendTry: none, send: none };
const headers = { origin: 'http://site.example', 'user-agent': DESKTOP };

/** A collector on a pool, whose clock stands at NOW. */
export const collectorOn = (pool: FreshDatabase['pool'], more: object = {}): Promise<FastifyInstance> =>
  createCollector({ pool, parts, perMinute: 1e6, clock: () => NOW, ...more });

export async function post(server: FastifyInstance, payload: string, agent = DESKTOP) {
  const response = await server.inject({ method: 'POST', url: '/c', payload, headers: { ...headers, 'user-agent': agent } });
  return {
    status: response.statusCode,
    retryAfter: response.headers['retry-after'],
    answer: response.json<BatchAnswer & { error?: { code: string; message: string } }>(),
  };
}

export const batchOf = (items: readonly unknown[], { browser = newUuid(), now = NOW }: { browser?: string; now?: number } = {}): string =>
  JSON.stringify({ key: KEY, browser, now, items });

/** A page that was opened a minute ago. */
export const opened = (more: Parameters<typeof openItem>[0] = {}) => openItem({ at: NOW - 60_000, ...more });

export interface CollectorUnderTest {
  readonly database: FreshDatabase;
  readonly site: Site;
  readonly server: FastifyInstance;
  readonly send: (items: readonly unknown[], from?: { browser?: string; now?: number }) => ReturnType<typeof post>;
  readonly rows: (sql: string, ...values: unknown[]) => Promise<Record<string, unknown>[]>;
  readonly end: () => Promise<void>;
}

/** A site with a database and a collector of its own. */
export async function collectorUnderTest(): Promise<CollectorUnderTest> {
  const database = await freshDatabase();
  const site = await createSite(database.pool, { key: KEY, name: 'Site', addresses: ['site.example'] });
  const server = await collectorOn(database.pool);
  return {
    database,
    site,
    server,
    send: (items, from) => post(server, batchOf(items, from)),
    rows: (sql, ...values) => many(database.pool, sql, values),
    end: async () => {
      await server.close();
      await database.drop();
    },
  };
}
