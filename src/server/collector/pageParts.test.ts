import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { brotliDecompressSync, gunzipSync } from 'node:zlib';
import type { FastifyInstance } from 'fastify';
import Fastify from 'fastify';
import { readPageParts } from './pageParts';

const code = 'console.log("crindle");'.repeat(50);
let server: FastifyInstance;

beforeAll(() => {
  const folder = mkdtempSync(join(tmpdir(), 'crindle-parts-'));
  writeFileSync(join(folder, 'page.js'), code);
  writeFileSync(join(folder, 'show-abc.js'), code);
  writeFileSync(join(folder, 'sizes.json'), '{}');
  const parts = readPageParts(folder);
  server = Fastify();
  server.get('/page.js', async (request, reply) => parts.sendEntry(request, reply));
  server.get('/parts/:name', async (request, reply) => parts.send(request, reply));
});
afterAll(() => server.close());

const get = (url: string, headers: Record<string, string> = {}) => server.inject({ url, headers });

test.each([
  { accepts: 'gzip, br', encoding: 'br', decode: brotliDecompressSync },
  { accepts: 'gzip', encoding: 'gzip', decode: gunzipSync },
  { accepts: 'identity', encoding: undefined, decode: (bytes: Buffer) => bytes },
])('a browser that accepts $accepts gets $encoding', async ({ accepts, encoding, decode }) => {
  const response = await get('/page.js', { 'accept-encoding': accepts });
  expect(response.headers['content-encoding']).toBe(encoding);
  expect(response.headers['vary']).toBe('accept-encoding');
  expect(decode(response.rawPayload).toString()).toBe(code);
});

test('parts are kept for ever, the entry for five minutes, and an unchanged one is not sent again', async () => {
  expect((await get('/parts/show-abc.js')).headers['cache-control']).toBe('public, max-age=31536000, immutable');
  const entry = await get('/page.js');
  expect(entry.headers['cache-control']).toBe('public, max-age=300');
  expect((await get('/page.js', { 'if-none-match': String(entry.headers['etag']) })).statusCode).toBe(304);
});

test.each(['/parts/unknown.js', '/parts/sizes.json', '/parts/..%2F..%2Fpackage.json'])('%s is not found', async (url) => {
  expect((await get(url)).statusCode).toBe(404);
});
