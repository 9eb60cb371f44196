import { addressOf, call, callInLines, callWithFile, fetched } from './call';

const asked: { url: string; method: string | undefined; body: unknown }[] = [];
let answer: () => Response;
const real = globalThis.fetch;
beforeEach(() => {
  asked.length = 0;
  answer = () => Response.json({ ok: true });
  globalThis.fetch = (url, { method, body } = {}) => {
    asked.push({ url: url as string, method, body });
    return Promise.resolve(answer());
  };
});
afterEach(() => void (globalThis.fetch = real));

test('what stands in braces and in the address is put in, encoded; what is undefined is left out', () => {
  expect(addressOf('GET /places.geojson')).toBe('/places.geojson');
  expect(addressOf('GET /places.geojson', { query: { id: 'a&b' } })).toBe('/places.geojson?id=a%26b');
  expect(addressOf('GET /api/conversations/{id}/pictures/{picture}', { params: { id: 'a/b', picture: '?' } })).toBe(
    '/api/conversations/a%2Fb/pictures/%3F',
  );
  expect(addressOf('GET /leads.csv', { more: 'tag=warm&tag=new' })).toBe('/leads.csv?tag=warm&tag=new');
  expect(addressOf('GET /results.csv', { query: { zone: 'Europe/Vienna', from: undefined, to: 7 } })).toBe(
    '/results.csv?zone=Europe%2FVienna&to=7',
  );
});

test('a request has its method, its body as JSON, and gives what was answered', async () => {
  answer = () => Response.json({ revision: 4 });
  const saved = await call('PUT /api/goals/{id}', {
    params: { id: 'g' },
    body: { name: 'Booked', goal: { kind: 'event', event: 'x', days: 7 }, revision: 3 },
  });
  expect(saved).toEqual({ ok: true, value: { revision: 4 } });
  expect(asked).toEqual([
    { url: '/api/goals/g', method: 'PUT', body: '{"name":"Booked","goal":{"kind":"event","event":"x","days":7},"revision":3}' },
  ]);
  const file = new Blob(['x']);
  await callWithFile('POST /api/pictures', { query: { name: 'hut.png' }, file });
  expect(asked[1]).toEqual({ url: '/api/pictures?name=hut.png', method: 'POST', body: file });
});

test('a refusal is said, or thrown with its words where nothing can be done without the answer', async () => {
  answer = () => Response.json({ error: { code: 'notFound', message: 'It is gone' } }, { status: 404 });
  expect(await call('GET /api/values')).toEqual({ ok: false, status: 404, code: 'notFound', message: 'It is gone' });
  await expect(fetched('GET /api/values')).rejects.toThrow('It is gone');
  answer = () => Response.json([{ name: 'first' }]);
  expect(await fetched('GET /api/values')).toEqual([{ name: 'first' }]);
});

test('an answer that grows is told line by line, and its refusal thrown', async () => {
  const told: unknown[] = [];
  const listen = () => callInLines('GET /api/segments/sizes', { signal: new AbortController().signal, onLine: (line) => told.push(line) });
  answer = () => new Response('{"a":1}\n{"a":2}\n');
  await listen();
  expect(told).toEqual([{ a: 1 }, { a: 2 }]);
  answer = () => new Response('{"error":{"code":"analysis.away","message":"It is away"}}\n');
  await expect(listen()).rejects.toThrow('It is away');
});
