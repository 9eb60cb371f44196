import { leftOutAs, parseLogLine } from './accessLog';

const AGENT = 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0.0.0 Safari/537.36';
const line = (request: string, { status = 200, time = '25/Nov/2026:10:00:00 +0100', referrer = '-', agent = AGENT } = {}): string =>
  `203.0.113.7 - - [${time}] "${request}" ${status} 512 "${referrer}" "${agent}"`;

test('a line gives address, instant in UTC, request, referrer and agent', () => {
  expect(parseLogLine(line('GET /huts?utm_source=x HTTP/1.1', { referrer: 'https://trailnotes.example/' }))).toEqual({
    address: '203.0.113.7',
    at: Date.parse('2026-11-25T09:00:00Z'),
    method: 'GET',
    target: '/huts?utm_source=x',
    status: 200,
    referrer: 'https://trailnotes.example/',
    agent: AGENT,
  });
});

test.each([
  ['an IPv6 address', '2001:db8::1 - - [25/Nov/2026:10:00:00 +0000] "GET / HTTP/2.0" 200 - "-" "x y"', '2001:db8::1'],
  ['a user with a blank', '192.0.2.1 - "a b" [25/Nov/2026:10:00:00 -0330] "GET / HTTP/1.1" 304 0 "-" "x"', '192.0.2.1'],
  ['quotes in the agent', String.raw`192.0.2.1 - - [25/Nov/2026:10:00:00 +0000] "GET / HTTP/1.1" 200 1 "-" "say \"hi\""`, '192.0.2.1'],
  ['the common format, without referrer and agent', '192.0.2.1 - - [25/Nov/2026:10:00:00 +0000] "GET / HTTP/1.0" 200 1', '192.0.2.1'],
])('%s is read', (_what, text, address) => {
  expect(parseLogLine(text)).toMatchObject({ address });
});

test.each([
  ['', 'Combined Log Format'],
  ['nonsense', 'Combined Log Format'],
  [line('GET / HTTP/1.1', { time: '31/Jun/2026:10:00:00 +0100' }), 'time: met'],
  [line('GET / HTTP/1.1', { time: '25/Foo/2026:10:00:00 +0100' }), 'time: met'],
  [line(String.raw`\x16\x03\x01`), 'request: met'],
  [line('-'), 'request: met'],
])('%j is told to be wrong: %s', (text, wrong) => {
  expect(parseLogLine(text)).toMatchObject({ wrong: expect.stringContaining(wrong) as string });
});

test.each([
  [line('GET /huts HTTP/1.1'), undefined],
  [line('GET /huts/ HTTP/1.1', { status: 304 }), undefined],
  [line('GET /app.css?v=3 HTTP/1.1'), 'asset'],
  [line('GET /_next/data HTTP/1.1'), 'asset'],
  [line('POST /book HTTP/1.1'), 'other'],
  [line('GET /gone HTTP/1.1', { status: 404 }), 'other'],
  [line('GET http://elsewhere.example/ HTTP/1.1'), 'other'],
  [line('GET / HTTP/1.1', { agent: 'Mozilla/5.0 (compatible; SomeBot/2.1; +http://bot.example)' }), 'robot'],
  [line('GET / HTTP/1.1', { agent: '-' }), 'robot'],
])('%s is left out as %s', (text, as) => {
  const request = parseLogLine(text);
  expect('wrong' in request ? 'wrong' : leftOutAs(request)).toBe(as);
});
