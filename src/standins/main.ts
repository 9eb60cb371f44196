import Fastify from 'fastify';
import { weatherAt } from './weather';

const port = Number(process.env['PORT'] ?? 4703);
const server = Fastify();

server.get('/health', async () => ({ ok: true }));
server.get<{ Querystring: { lat?: string; lon?: string; day?: string } }>('/weather', async ({ query }, reply) => {
  const [lat, lon] = [Number(query.lat ?? NaN), Number(query.lon ?? NaN)];
  const day = query.day ?? new Date().toISOString().slice(0, 10);
  if (!(Math.abs(lat) <= 90 && Math.abs(lon) <= 180))
    return reply.code(400).send({ error: { code: 'place', message: `lat and lon: met ${query.lat}, ${query.lon}, expected degrees` } });
  if (!/^\d{4}-\d\d-\d\d$/.test(day))
    return reply.code(400).send({ error: { code: 'day', message: `day: met ${day}, expected YYYY-MM-DD` } });
  return weatherAt({ lat, lon, day });
});

await server.listen({ port, host: process.env['HOST'] ?? '127.0.0.1' });
for (const signal of ['SIGTERM', 'SIGINT'] as const) process.once(signal, () => void server.close().then(() => process.exit(0)));
