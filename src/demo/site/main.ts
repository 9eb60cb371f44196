import Fastify from 'fastify';
import { SITE_CSS, SITE_JS } from './assets';
import { findPage } from './pages';
import { renderPage } from './render';

const port = Number(process.env['PORT'] ?? 4704);
const snippet = {
  collector: process.env['CRINDLE_COLLECTOR'] ?? 'http://127.0.0.1:4701',
  siteKey: process.env['CRINDLE_SITE'] ?? 'tarnhollowdemo',
};
const server = Fastify();

server.get('/health', async () => ({ ok: true }));
server.get('/site.css', async (_request, reply) => reply.type('text/css; charset=utf-8').send(SITE_CSS));
server.get('/site.js', async (_request, reply) => reply.type('text/javascript; charset=utf-8').send(SITE_JS));
server.get('/*', async (request, reply) => {
  const page = findPage(new URL(request.url, 'http://demo').pathname);
  if (!page)
    return reply
      .code(404)
      .type('text/html; charset=utf-8')
      .send('<!doctype html><title>Not found</title><p>No path leads there. <a href="/">Back to the huts</a>');
  return reply.type('text/html; charset=utf-8').send(renderPage(page, snippet));
});

await server.listen({ port, host: process.env['HOST'] ?? '127.0.0.1' });
for (const signal of ['SIGTERM', 'SIGINT'] as const) process.once(signal, () => void server.close().then(() => process.exit(0)));
