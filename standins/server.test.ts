import type { AddressInfo } from 'node:net';
import type { FastifyInstance } from 'fastify';
import type { NoteAsked } from '@/server/connections/services';
import { locateBy, weatherBy } from '@/server/connections/services';
import { createStandins } from './server';

let server: FastifyInstance;
let base = '';
let outcomes: string[] = [];
const note: NoteAsked = (service, { outcome }) => void outcomes.push(`${service} ${outcome}`);
/** How fast this machine is is no matter of these. */
const PATIENT = { timeoutMs: 60_000 };
const nowhere = () => Promise.resolve(undefined);
const fault = (service: string, kind: string) => server.inject({ method: 'PUT', url: `/faults/${service}`, payload: { fault: kind } });

beforeEach(async () => {
  server = createStandins();
  await server.listen({ port: 0, host: '127.0.0.1' });
  base = `http://127.0.0.1:${(server.server.address() as AddressInfo).port}/`;
  outcomes = [];
});
afterEach(() => server.close());

test('an example address is a town with how exact it is; others are looked up in the table', async () => {
  const locate = locateBy(base, async (address) => (address === '192.0.2.1' ? { country: 'FR' } : undefined), note, PATIENT);
  expect(await locate('203.0.113.25')).toMatchObject({ country: 'DE', city: 'Munich', accuracy: 20_000 });
  expect(await locate('192.0.2.1')).toEqual({ country: 'FR' });
  expect(await locate('127.0.0.1')).toBeUndefined();
  expect(outcomes).toEqual(['location answered', 'location refused', 'location refused']);
});

test('the same place and day is asked once', async () => {
  const weather = weatherBy(base, note, PATIENT);
  const at = Date.parse('2026-01-15T10:00:00Z');
  const first = await weather({ lat: 47.27, lon: 11.39 }, at);
  expect(first).toEqual(await weather({ lat: 47.2701, lon: 11.3902 }, at + 3_600_000));
  expect(outcomes).toEqual(['weather answered']);
});

test.each([
  ['error', 'refused'],
  ['limit', 'refused'],
  ['refused', 'refused'],
  ['nonsense', 'unreadable'],
  ['slow', 'slow'],
])(
  'a weather service that is %s leaves the weather unknown, and nobody waits long',
  async (kind, outcome) => {
    await fault('weather', kind);
    // The slow one answers after a second and more; whoever asks has gone on by then.
    expect(await weatherBy(base, note, kind === 'slow' ? { timeoutMs: 50 } : PATIENT)({ lat: 47, lon: 11 }, Date.now())).toBeUndefined();
    expect(outcomes).toEqual([`weather ${outcome}`]);
  },
  10_000,
);

test('a location service that fails leaves the table to answer', async () => {
  await fault('location', 'error');
  expect(await locateBy(base, async () => ({ country: 'AT' }), note, PATIENT)('203.0.113.5')).toEqual({ country: 'AT' });
  expect(await locateBy('http://127.0.0.1:1/', nowhere, note)('203.0.113.5')).toBeUndefined();
});

test('a fault that nobody knows is refused with what was met', async () => {
  const reply = await fault('weather', 'moody');
  expect([reply.statusCode, reply.json<{ error: { message: string } }>().error.message]).toEqual([
    400,
    'fault: met moody, expected one of none, slow, error, limit, refused, one, drops, nonsense',
  ]);
});
