import type { FastifyInstance } from 'fastify';
import Fastify from 'fastify';
import { TOWN_ACCURACY, townOf } from '@/demo/towns';
import { START_HEADER, startHeaders } from '@/server/http/ownStart';
import type { Fault } from './faults';
import { FAULTS, misbehave } from './faults';
import { Outbox } from './outbox';
import { serveReceivers } from './receivers';
import { weatherAt } from './weather';

/** Small services that behave like those outside: a weather service, an address lookup and a mail outbox. `PUT /faults/SERVICE` with a fault's name makes one misbehave. */
export function createStandins(outbox = new Outbox()): FastifyInstance {
  const server = Fastify();
  const faults = new Map<string, Fault>();
  outbox.serve(server);
  serveReceivers(server, (service) => faults.get(service) ?? 'none');

  server.get('/health', async ({ headers }, reply) => reply.headers(startHeaders(headers[START_HEADER])).send({ ok: true }));
  server.put<{ Params: { service: string }; Body: { fault?: unknown } }>('/faults/:service', async ({ params, body }, reply) => {
    const fault = FAULTS.find((one) => one === body?.fault);
    if (!SERVICES.includes(params.service))
      return bad(reply, 'service', `service: met ${params.service}, expected one of ${SERVICES.join(', ')}`);
    if (!fault) return bad(reply, 'fault', `fault: met ${String(body?.fault)}, expected one of ${FAULTS.join(', ')}`);
    if (params.service === 'outbox') outbox.isOutOfOrder = fault !== 'none';
    faults.set(params.service, fault);
    return { service: params.service, fault };
  });

  server.get<{ Querystring: { lat?: string; lon?: string; day?: string } }>('/weather', async ({ query }, reply) => {
    if (await misbehave(faults.get('weather') ?? 'none', reply)) return reply;
    const [lat, lon] = [Number(query.lat ?? NaN), Number(query.lon ?? NaN)];
    const day = query.day ?? new Date().toISOString().slice(0, 10);
    if (!(Math.abs(lat) <= 90 && Math.abs(lon) <= 180))
      return bad(reply, 'place', `lat and lon: met ${query.lat}, ${query.lon}, expected degrees`);
    if (!/^\d{4}-\d\d-\d\d$/.test(day)) return bad(reply, 'day', `day: met ${day}, expected YYYY-MM-DD`);
    return weatherAt({ lat, lon, day });
  });

  // Knows the example addresses that the demo's visitors come from, and no others.
  server.get<{ Querystring: { address?: string } }>('/location', async ({ query }, reply) => {
    if (await misbehave(faults.get('location') ?? 'none', reply)) return reply;
    if (!query.address) return bad(reply, 'address', 'address: met nothing, expected a network address');
    const town = townOf(query.address);
    if (!town) return reply.code(404).send({ error: { code: 'unknown', message: 'Nothing is known of that address' } });
    const { country, region, city, lat, lon } = town;
    return { country, region, city, lat, lon, accuracy: TOWN_ACCURACY };
  });
  return server;
}

const SERVICES = ['weather', 'location', 'outbox', 'hook', 'lists'];

const bad = (reply: Parameters<typeof misbehave>[1], code: string, message: string) => reply.code(400).send({ error: { code, message } });
