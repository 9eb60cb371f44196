import type { FastifyInstance } from 'fastify';
import Fastify from 'fastify';
import { TOWN_ACCURACY, townOf } from '@/demo/towns';
import { START_HEADER, startHeaders } from '@/server/http/ownStart';
import type { Fault } from './faults';
import { FAULT_WORDS, FAULTS, misbehave } from './faults';
import { Outbox } from './outbox';
import { page, plain } from './page';
import { serveReceivers } from './receivers';
import { weatherAt } from './weather';

const GOOD: Fault = { kind: 'none', address: '' };

/**
 * Small services that behave like those outside: weather, locations, a mail outbox, a web hook, mail lists and ad audiences. `PUT /faults/SERVICE` with a
 * fault's name makes one misbehave; `/` says how each behaves, has switches for that, and leads to what has arrived.
 */
export function createStandins(outbox = new Outbox()): FastifyInstance {
  const server = Fastify();
  const faults = new Map<string, Fault>();
  outbox.serve(server);
  const faultOf = (service: string): Fault => faults.get(service) ?? GOOD;
  serveReceivers(server, faultOf);

  server.get('/health', async ({ headers }, reply) => reply.headers(startHeaders(headers[START_HEADER])).send({ ok: true }));
  server.put<{ Params: { service: string }; Body: { fault?: unknown; address?: unknown } }>(
    '/faults/:service',
    async ({ params: { service }, body }, reply) => {
      const kind = FAULTS.find((one) => one === body?.fault);
      if (!SERVICES.includes(service)) return bad(reply, 'service', `service: met ${service}, expected one of ${SERVICES.join(', ')}`);
      if (!kind) return bad(reply, 'fault', `fault: met ${String(body?.fault)}, expected one of ${FAULTS.join(', ')}`);
      const fault = { kind, address: typeof body?.address === 'string' ? body.address : '' };
      if (service === 'outbox') outbox.fault = fault;
      faults.set(service, fault);
      return { service, fault: kind };
    },
  );
  server.get('/', (_request, reply) =>
    reply.type('text/html; charset=utf-8').send(page('Services that stand in for others', switches(faultOf))),
  );

  server.get<{ Querystring: { lat?: string; lon?: string; day?: string } }>('/weather', async ({ query }, reply) => {
    if (await misbehave(faultOf('weather'), reply)) return reply;
    const [lat, lon] = [Number(query.lat ?? NaN), Number(query.lon ?? NaN)];
    const day = query.day ?? new Date().toISOString().slice(0, 10);
    if (!(Math.abs(lat) <= 90 && Math.abs(lon) <= 180))
      return bad(reply, 'place', `lat and lon: met ${query.lat}, ${query.lon}, expected degrees`);
    if (!/^\d{4}-\d\d-\d\d$/.test(day)) return bad(reply, 'day', `day: met ${day}, expected YYYY-MM-DD`);
    return weatherAt({ lat, lon, day });
  });

  // Knows the example addresses that the demo's visitors come from, and no others.
  server.get<{ Querystring: { address?: string } }>('/location', async ({ query }, reply) => {
    if (await misbehave(faultOf('location'), reply)) return reply;
    if (!query.address) return bad(reply, 'address', 'address: met nothing, expected a network address');
    const town = townOf(query.address);
    if (!town) return reply.code(404).send({ error: { code: 'unknown', message: 'Nothing is known of that address' } });
    const { country, region, city, lat, lon } = town;
    return { country, region, city, lat, lon, accuracy: TOWN_ACCURACY };
  });
  return server;
}

const SERVICES = ['weather', 'location', 'outbox', 'hook', 'lists', 'audiences'];
const KEEPS: readonly string[] = ['outbox', 'hook', 'lists', 'audiences'];

/** Which service behaves how, to be changed. */
const switches = (faultOf: (service: string) => Fault): string => `<table>${SERVICES.map((service) => {
  const fault = faultOf(service);
  const options = FAULTS.map(
    (kind) => `<option value="${kind}"${kind === fault.kind ? ' selected' : ''}>${FAULT_WORDS[kind]}</option>`,
  ).join('');
  return `<tr><th scope="row">${KEEPS.includes(service) ? `<a href="/${service}">${service}</a>` : service}</th><td><select aria-label="${service}" data-service="${service}">${options}</select></td>
<td><input aria-label="address that ${service} refuses" placeholder="refused@post.example" value="${plain(fault.address)}"></td></tr>`;
}).join('')}</table><script>
for (const row of document.querySelectorAll('tr')) {
  const [select, input] = [row.querySelector('select'), row.querySelector('input')];
  const say = () => fetch('/faults/' + select.dataset.service, { method: 'PUT', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ fault: select.value, address: input.value }) });
  select.onchange = say;
  input.onchange = say;
}
</script>`;

const bad = (reply: Parameters<typeof misbehave>[1], code: string, message: string) => reply.code(400).send({ error: { code, message } });
