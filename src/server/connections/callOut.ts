import { lookup } from 'node:dns/promises';
import http from 'node:http';
import https from 'node:https';
import type { LookupFunction } from 'node:net';
import { isPublic } from '../sites/look';

/** Why nothing came back, in words. */
export class NotCalled extends Error {
  readonly code = 'call.failed';
  /** It will not be otherwise the next time. */
  readonly isForGood: boolean;
  readonly isSlow: boolean;
  constructor(message: string, { isForGood = false, isSlow = false }: { isForGood?: boolean; isSlow?: boolean } = {}) {
    super(message);
    this.isForGood = isForGood;
    this.isSlow = isSlow;
  }
}

export interface Called {
  readonly status: number;
  readonly retryAfter: string | undefined;
  readonly body: string;
}

const PATIENCE_MS = 10_000;
/** More of an answer than this is not read. */
const MOST_BYTES = 64 * 1024;

/** Calls a service of somebody else. Private networks only where that is allowed; redirections are not followed; long answers are cut. @throws NotCalled */
export async function callOut({
  url: given,
  method,
  headers,
  body,
  allowPrivate,
  patienceMs = PATIENCE_MS,
  mostBytes = MOST_BYTES,
  trusts,
}: {
  url: string;
  method: 'GET' | 'POST' | 'PUT' | 'DELETE';
  headers: Readonly<Record<string, string>>;
  body?: string | undefined;
  allowPrivate: boolean;
  patienceMs?: number;
  /** More of an answer than this is not read. */
  mostBytes?: number;
  /** A certificate that is trusted besides the usual ones, as PEM. */
  trusts?: string;
}): Promise<Called> {
  const url = new URL(given);
  const host = url.hostname.replace(/^\[|\]$/g, '');
  const found = await lookup(host, { all: true }).catch(() => []);
  const [first] = found;
  if (!first) throw new NotCalled(`${host} is not known to the network`);
  if (!allowPrivate && !found.every(({ address }) => isPublic(address)))
    throw new NotCalled(`${host} is on this machine or in a private network; the connection does not allow that`, { isForGood: true });
  // Looked up once: a name cannot lead elsewhere the second time.
  const pinned: LookupFunction = (_host, options, done) => (options.all ? done(null, [first]) : done(null, first.address, first.family));
  const deadline = AbortSignal.timeout(patienceMs);
  return new Promise((resolve, reject) => {
    const fail = (cause: Error): void =>
      reject(
        cause instanceof NotCalled
          ? cause
          : deadline.aborted
            ? new NotCalled(`${url.host} did not answer within ${patienceMs / 1000} s`, { isSlow: true })
            : new NotCalled(`${url.host}: ${cause.message}`),
      );
    const call = (url.protocol === 'https:' ? https : http).request(
      url,
      {
        method,
        headers: { 'user-agent': 'Crindle', ...headers, ...(body === undefined ? {} : { 'content-length': Buffer.byteLength(body) }) },
        lookup: pinned,
        signal: deadline,
        agent: false,
        ...(trusts === undefined ? {} : { ca: trusts }),
      },
      (answer) => {
        const chunks: Buffer[] = [];
        let length = 0;
        const end = (): void =>
          resolve({
            status: answer.statusCode ?? 0,
            retryAfter: answer.headers['retry-after'],
            body: Buffer.concat(chunks).toString('utf8'),
          });
        answer.on('data', (chunk: Buffer) => {
          chunks.push(chunk);
          length += chunk.length;
          if (length <= mostBytes) return;
          end();
          answer.destroy();
        });
        answer.once('end', end);
        answer.once('error', fail);
      },
    );
    call.once('error', fail);
    call.end(body);
  });
}
