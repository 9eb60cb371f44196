import { createHash } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { brotliCompress, brotliCompressSync, gzip as gzipInThread, gzipSync } from 'node:zlib';
import { LRUCache } from 'lru-cache';
import type { FastifyReply, FastifyRequest } from 'fastify';

interface Part {
  readonly plain: Buffer;
  readonly br: Buffer;
  readonly gzip: Buffer;
  readonly etag: string;
}

export interface PageParts {
  readonly sendEntry: (request: FastifyRequest, reply: FastifyReply) => FastifyReply;
  readonly sendTry: (request: FastifyRequest, reply: FastifyReply) => FastifyReply;
  readonly send: (request: FastifyRequest, reply: FastifyReply) => FastifyReply;
}

/** The built page script from a folder: `page.js`, and parts whose names hold their hash and so never change. Compressed once. */
export function readPageParts(folder: string): PageParts {
  const parts = new Map(
    readdirSync(folder)
      .filter((name) => name.endsWith('.js'))
      .map((name) => [name, readPart(join(folder, name))]),
  );
  const answer = (name: string, cache: string, request: FastifyRequest, reply: FastifyReply): FastifyReply => {
    const part = parts.get(name);
    if (!part) return reply.code(404).send({ error: { code: 'part.unknown', message: 'No such part of the page script' } });
    reply.header('cache-control', cache).header('etag', part.etag).header('vary', 'accept-encoding').type('text/javascript; charset=utf-8');
    if (request.headers['if-none-match'] === part.etag) return reply.code(304).send();
    return sendAs(request, reply, part);
  };
  return {
    sendEntry: (request, reply) => answer('page.js', 'public, max-age=300', request, reply),
    sendTry: (request, reply) => answer('try.js', 'no-cache', request, reply),
    send: (request, reply) => answer((request.params as { name: string }).name, 'public, max-age=31536000, immutable', request, reply),
  };
}

function sendAs(request: FastifyRequest, reply: FastifyReply, part: Omit<Part, 'etag'>): FastifyReply {
  const accepts = String(request.headers['accept-encoding'] ?? '');
  if (/\bbr\b/.test(accepts)) return reply.header('content-encoding', 'br').send(part.br);
  return /\bgzip\b/.test(accepts) ? reply.header('content-encoding', 'gzip').send(part.gzip) : reply.send(part.plain);
}

const kept = new LRUCache<string, Promise<Omit<Part, 'etag'>>>({ max: 200 });
const [brotli, gzip] = [promisify(brotliCompress), promisify(gzipInThread)];

/** Text that never changes under its key, compressed once, beside the event loop: a large release takes seconds, in which others are answered. */
export async function compressed(
  request: FastifyRequest,
  reply: FastifyReply,
  { key, text }: { key: string; text: () => string },
): Promise<FastifyReply> {
  let part = kept.get(key);
  if (!part) {
    const plain = Buffer.from(text());
    part = Promise.all([brotli(plain), gzip(plain)]).then(([br, zipped]) => ({ plain, br, gzip: zipped }));
    kept.set(key, part);
    part.catch(() => kept.delete(key));
  }
  return sendAs(request, reply.header('vary', 'accept-encoding'), await part);
}

function readPart(file: string): Part {
  const plain = readFileSync(file);
  const etag = `"${createHash('sha256').update(plain).digest('base64url').slice(0, 22)}"`;
  return { plain, br: brotliCompressSync(plain), gzip: gzipSync(plain), etag };
}
