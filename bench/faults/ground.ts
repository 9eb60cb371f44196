import { Agent, request } from 'node:http';
import pg from 'pg';
import { createSite } from '@/server/db/sites';
import { makeDatabase } from '../ground';

export const KEY = 'faultsite1';
export const ORIGIN = 'http://faults.example';
const BROWSER = 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0.0.0 Safari/537.36';
const DATABASE = 'faults';

/** What went wrong in a run, in words; none, and it passed. */
export type Wrongs = readonly string[];

export interface Answer {
  /** 0 where nothing answered. */
  readonly status: number;
  readonly text: string;
  readonly ms: number;
  readonly retryAfter: string | undefined;
}

export interface Sending {
  readonly path?: string;
  readonly method?: string;
  readonly body?: string | Buffer | undefined;
  readonly headers?: Readonly<Record<string, string>>;
}

const agent = new Agent({ keepAlive: true, maxSockets: 256 });

/** One request to a collector on this machine. Never rejects. */
export function send(port: number, { path = '/c', method = 'POST', body, headers = {} }: Sending): Promise<Answer> {
  const began = performance.now();
  return new Promise((resolve) => {
    const none = (): void => resolve({ status: 0, text: '', ms: performance.now() - began, retryAfter: undefined });
    const given = { origin: ORIGIN, 'user-agent': BROWSER, 'content-type': 'text/plain', ...headers };
    try {
      const sent = request({ host: '127.0.0.1', port, path, method, agent, headers: given }, (response) => {
        let text = '';
        response.setEncoding('utf8');
        response.on('data', (part: string) => (text += part));
        response.on('error', none);
        response.on('end', () => {
          const retryAfter = response.headers['retry-after'];
          resolve({ status: response.statusCode ?? 0, text, ms: performance.now() - began, retryAfter });
        });
      });
      sent.on('error', none);
      sent.end(body);
    } catch {
      none(); // No request can be made of it.
    }
  });
}

/** A page's opening. */
export const openOf = (view: string, visit: string, at = Date.now()) => ({
  kind: 'open',
  view,
  visit,
  at,
  visitAt: at,
  url: `${ORIGIN}/x`,
  referrer: '',
});

/** A batch of items as they are; the signals of pieces are packed by then. */
export const batchOf = (browser: string, items: readonly unknown[], now = Date.now()): string =>
  JSON.stringify({ key: KEY, browser, now, items });

/** A migrated database of its own with one site, made anew. */
export async function makeSite(): Promise<{ url: string; pool: pg.Pool; siteId: number }> {
  const url = await makeDatabase(DATABASE);
  const pool = new pg.Pool({ connectionString: url, max: 4 });
  pool.on('error', () => undefined); // The database is killed on purpose.
  const { id } = await createSite(pool, { key: KEY, name: 'Faults', addresses: [new URL(ORIGIN).host] });
  return { url, pool, siteId: id };
}

export const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

export const inWords = (value: number): string => Math.round(value).toLocaleString('en');
