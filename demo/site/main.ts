import Fastify from 'fastify';
import { START_HEADER, startHeaders } from '@/server/http/ownStart';
import { SITE_CSS, SITE_JS } from './assets';
import { findPage } from './pages';
import { drawScene } from './scene';
import { renderPage } from './render';

const port = Number(process.env['PORT'] ?? 4704);
const snippet = {
  collector: process.env['CRINDLE_COLLECTOR'] ?? 'http://127.0.0.1:4701',
  siteKey: process.env['CRINDLE_SITE'] ?? 'tarnhollowdemo',
};
const server = Fastify();

server.get('/health', async ({ headers }, reply) => reply.headers(startHeaders(headers[START_HEADER])).send({ ok: true }));
server.get('/site.css', async (_request, reply) => reply.type('text/css; charset=utf-8').send(SITE_CSS));
server.get('/site.js', async (_request, reply) => reply.type('text/javascript; charset=utf-8').send(SITE_JS));
server.get('/scene.svg', async (_request, reply) =>
  reply.type('image/svg+xml').send(drawScene('/').replace('<svg ', '<svg xmlns="http://www.w3.org/2000/svg" ')),
);
server.get('/*', async (request, reply) => {
  const { pathname } = new URL(request.url, 'http://demo');
  // The same pages once more as a single-page application.
  const root = /^\/app(\/|$)/.test(pathname) ? '/app' : '';
  const page = findPage(pathname.slice(root.length) || '/');
  if (!page)
    return reply
      .code(404)
      .type('text/html; charset=utf-8')
      .send('<!doctype html><title>Not found</title><p>No path leads there. <a href="/">Back to the huts</a>');
  return reply.type('text/html; charset=utf-8').send(renderPage(page, snippet, root));
});

await server.listen({ port, host: process.env['HOST'] ?? '127.0.0.1' });
for (const signal of ['SIGTERM', 'SIGINT'] as const) process.once(signal, () => void server.close().then(() => process.exit(0)));
