import { lookup } from 'node:dns/promises';
import http from 'node:http';
import https from 'node:https';
import type { LookupFunction } from 'node:net';
import ipaddr from 'ipaddr.js';
import { parse } from 'parse5';
import type { DefaultTreeAdapterTypes } from 'parse5';
import type { FoundScript, LookedAt } from '@/core/install/look';
import { parsePolicies } from '@/core/install/policy';

/** Nothing was asked, or nothing came back; in words for whoever gave the address. */
export class NotLookedAt extends Error {
  readonly code = 'look.failed';
}

const MOST_BYTES = 3_000_000;
const MOST_HOPS = 5;
const PATIENCE_MS = 8000;
const PORTS = ['', '80', '443', '8080', '8443'];

export interface LookOptions {
  /** Origins of our own, which may stand on this machine: the demo's site, the collector. */
  readonly own: readonly string[];
  /** An owner says that it is theirs: this machine and the private network are looked at, too, at any port. */
  readonly allowPrivate?: boolean;
  readonly patienceMs?: number;
}

interface Fetched {
  readonly url: URL;
  readonly status: number;
  readonly headers: http.IncomingHttpHeaders;
  readonly body: string;
}

/** On the open network, and nowhere inside. */
export function isPublic(address: string): boolean {
  if (!ipaddr.isValid(address)) return false;
  return ipaddr.process(address).range() === 'unicast';
}

/** Nearby machines and this one; where clouds tell secrets of a machine (169.254.169.254) is none of them. */
const NEAR = ['unicast', 'private', 'loopback', 'uniqueLocal', 'carrierGradeNat'];
const isNear = (address: string): boolean => ipaddr.isValid(address) && NEAR.includes(ipaddr.process(address).range());

/** Fetches an address as a stranger would. What leads to this machine or into a private network is refused, by name, by number and by redirection. @throws NotLookedAt */
export async function fetchAsStranger(
  given: string,
  { own, allowPrivate = false, patienceMs = PATIENCE_MS }: LookOptions,
): Promise<Fetched> {
  let url = urlOf(given);
  const deadline = AbortSignal.timeout(patienceMs);
  for (let hop = 0; hop <= MOST_HOPS; hop++) {
    const isOwn = own.includes(url.origin);
    if (!isOwn && !allowPrivate && !PORTS.includes(url.port))
      throw new NotLookedAt(`Port ${url.port} is not looked at; expected 80, 443, 8080 or 8443`);
    const met = await request(url, { isOwn, allowPrivate, deadline });
    const { location } = met.headers;
    if (met.status < 300 || met.status >= 400 || location === undefined) return met;
    if (!URL.canParse(location, url)) throw new NotLookedAt(`${url.href} leads on to what is no address`);
    url = urlOf(new URL(location, url).href);
  }
  throw new NotLookedAt(`${given} leads on more than ${MOST_HOPS} times`);
}

function urlOf(text: string): URL {
  if (!URL.canParse(text)) throw new NotLookedAt(`met ${text.slice(0, 100)}, expected an address such as https://www.example.com/`);
  const url = new URL(text);
  if (url.protocol !== 'https:' && url.protocol !== 'http:') throw new NotLookedAt(`met ${url.protocol}, expected https or http`);
  if (url.username || url.password) throw new NotLookedAt('An address with a name and a password is not looked at');
  return url;
}

/** The address is looked up once, and that one is connected to: a name cannot lead elsewhere the second time. */
async function request(
  url: URL,
  { isOwn, allowPrivate, deadline }: { isOwn: boolean; allowPrivate: boolean; deadline: AbortSignal },
): Promise<Fetched> {
  const host = url.hostname.replace(/^\[|\]$/g, '');
  const found = await lookup(host, { all: true }).catch(() => []);
  const [first] = found;
  if (!first) throw new NotLookedAt(`${host} is not known to the network`);
  if (!isOwn && !found.every(({ address }) => (allowPrivate ? isNear : isPublic)(address)))
    throw new NotLookedAt(
      `${host} is on this machine or in a private network, where nothing is looked at from here${allowPrivate ? '' : ' unless an owner allows it'}`,
    );
  const pinned: LookupFunction = (_host, options, done) => (options.all ? done(null, [first]) : done(null, first.address, first.family));
  return new Promise((resolve, reject) => {
    const fail = (cause: Error): void =>
      reject(
        cause instanceof NotLookedAt
          ? cause
          : new NotLookedAt(`${url.host} did not answer: ${deadline.aborted ? 'it took too long' : cause.message}`),
      );
    const asked = (url.protocol === 'https:' ? https : http).get(
      url,
      {
        lookup: pinned,
        signal: deadline,
        agent: false,
        headers: { 'user-agent': 'Mozilla/5.0 (compatible; Crindle install check)', accept: 'text/html,*/*' },
      },
      (answer) => {
        const chunks: Buffer[] = [];
        let length = 0;
        answer.on('data', (chunk: Buffer) => {
          length += chunk.length;
          chunks.push(chunk);
          if (length > MOST_BYTES) asked.destroy(new NotLookedAt(`${url.host} sends more than ${MOST_BYTES / 1e6} MB`));
        });
        answer.on('end', () =>
          resolve({ url, status: answer.statusCode ?? 0, headers: answer.headers, body: Buffer.concat(chunks).toString('utf8') }),
        );
        answer.on('error', fail);
      },
    );
    asked.on('error', fail);
  });
}

/** What a page's server sends, taken apart. @throws NotLookedAt */
export async function lookAt(given: string, options: LookOptions): Promise<LookedAt> {
  const { url, status, headers, body } = await fetchAsStranger(given, options);
  const isHtml = /html/i.test(String(headers['content-type'] ?? ''));
  const scripts: FoundScript[] = [];
  const metas: string[] = [];
  if (isHtml) walk(parse(body), 'head', scripts, metas);
  const header = headers['content-security-policy'];
  return { url: url.href, status, isHtml, scripts, policies: [...(header ? [header].flat() : []), ...metas].flatMap(parsePolicies) };
}

type Node = DefaultTreeAdapterTypes.Node;

function walk(node: Node, where: 'head' | 'body', scripts: FoundScript[], metas: string[]): void {
  if ('tagName' in node) {
    const attributes = Object.fromEntries(node.attrs.map(({ name, value }) => [name, value]));
    if (node.tagName === 'script')
      scripts.push({ where, attributes, text: node.childNodes.map((child) => ('value' in child ? child.value : '')).join('') });
    if (node.tagName === 'meta' && attributes['http-equiv']?.toLowerCase() === 'content-security-policy')
      metas.push(attributes['content'] ?? '');
    if (node.tagName === 'body') where = 'body';
  }
  if ('childNodes' in node) for (const child of node.childNodes) walk(child, where, scripts, metas);
}

/** Is what is at that address our page script as it is now? */
export async function scriptAt(url: string, ours: string, options: LookOptions): Promise<'current' | 'older' | 'none'> {
  const { status, body } = await fetchAsStranger(url, options);
  if (status !== 200) return 'none';
  if (body === ours) return 'current';
  return body.includes('crindle') ? 'older' : 'none';
}
