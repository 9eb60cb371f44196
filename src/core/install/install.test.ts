import type { Expected, FoundScript, LookedAt } from './look';
import { findingsOf } from './look';
import { allows, parsePolicies } from './policy';
import { lineFor, policyFor, stubText, WAYS } from './ways';

const COLLECTOR = 'https://c.example';
const SITE = { collector: COLLECTOR, siteKey: 'abc', asks: false };
const EXPECTED: Expected = {
  collector: COLLECTOR,
  siteKey: 'abc',
  siteName: 'Shop',
  addresses: ['www.shop.example'],
  asks: false,
  hasRelease: true,
};
const script = (attributes: Record<string, string>, text = ''): FoundScript => ({ where: 'head', attributes, text });
const LINE = script({ src: `${COLLECTOR}/page.js`, 'data-site': 'abc', async: '' });
const page = (more: Partial<LookedAt> = {}): LookedAt => ({
  url: 'https://www.shop.example/',
  status: 200,
  isHtml: true,
  scripts: [LINE],
  policies: [],
  ...more,
});
const codes = (looked: LookedAt, expected = EXPECTED): string[] => findingsOf(looked, expected).map(({ code }) => code);
const policy = (text: string): Partial<LookedAt> => ({ policies: parsePolicies(text) });

test('each way has a line of its own, with nothing of what is typed becoming markup', () => {
  expect(lineFor('plain', SITE)).toBe(`<script async src="https://c.example/page.js" data-site="abc"></script>`);
  expect(lineFor('plain', { ...SITE, asks: true })).toContain(' data-consent="ask">');
  expect(lineFor('singlePage', SITE, { event: 'app:page' })).toContain(' data-page-event="app:page">');
  expect(lineFor('singlePage', SITE, { event: '"><script>alert(1)</script>' })).not.toContain('<script>alert');
  expect(lineFor('own', SITE, { address: 'https://www.shop.example/c/' })).toContain('src="https://www.shop.example/c/page.js"');
  expect(lineFor('stub', SITE)).toContain(stubText());
  for (const way of WAYS) expect(lineFor(way, SITE)).toContain(`${COLLECTOR}/page.js`);
});

test('a policy allows what it names, by host, scheme, path, nonce or everything', () => {
  const asked = new URL('https://c.example/parts/decide-x.js');
  const from = { page: new URL('https://www.shop.example/a') };
  const holds = (text: string, more: { nonce?: string } = {}) =>
    allows(parsePolicies(text)[0] ?? new Map(), 'script-src', asked, { ...from, ...more });
  for (const yes of [
    'img-src x',
    'script-src https://c.example',
    'script-src c.example',
    'script-src *',
    'script-src https:',
    'script-src *.example',
    'default-src c.example',
    "script-src 'none'; script-src-elem c.example",
    'script-src c.example:443',
    'script-src https://c.example/parts/',
    'SCRIPT-SRC C.EXAMPLE',
  ])
    expect([yes, holds(yes)]).toEqual([yes, true]);
  for (const no of [
    "script-src 'none'",
    "script-src 'self'",
    'default-src other.example',
    'script-src http://d.example',
    'script-src c.example:8443',
    'script-src https://c.example/page.js',
    "script-src 'strict-dynamic' https://c.example",
    'script-src',
    'script-src *.c.example',
    "script-src 'nonce-abc'",
  ])
    expect([no, holds(no)]).toEqual([no, false]);
  expect(holds("script-src 'nonce-abc'", { nonce: 'abc' })).toBe(true);
  expect(holds("script-src 'nonce-abc'", { nonce: 'other' })).toBe(false);
  // The first of two directives of a name counts, and of several policies each has to hold.
  expect(holds("script-src 'none'; script-src *")).toBe(false);
  expect(parsePolicies("script-src *, script-src 'none'")).toHaveLength(2);
});

test('what the install text says a policy needs is what the look asks of one', () => {
  expect(codes(page(policy(policyFor(SITE))))).toContain('policy.allows');
});

test.each([
  ['all well', page(), ['line.there', 'policy.none']],
  ['not there', page({ scripts: [script({ src: '/app.js' })] }), ['line.missing']],
  ['twice', page({ scripts: [LINE, LINE] }), ['line.there', 'line.twice', 'policy.none']],
  ['another site’s', page({ scripts: [script({ src: `${COLLECTOR}/page.js`, 'data-site': 'other' })] }), ['line.otherSite']],
  ['an address that is not the site’s', page({ url: 'https://staging.example/' }), ['page.address', 'line.there', 'policy.none']],
  [
    'an insecure script',
    page({ scripts: [script({ src: 'http://c.example/page.js', 'data-site': 'abc' })] }),
    ['line.there', 'line.insecure', 'line.ownAddress', 'policy.none'],
  ],
  [
    'passed on by the site',
    page({ scripts: [script({ src: '/c/page.js', 'data-site': 'abc' })] }),
    ['line.there', 'line.ownAddress', 'policy.none'],
  ],
  [
    'put in by a script',
    page({ scripts: [script({}, lineFor('tool', SITE).replace(/^<script>|<\/script>$/g, ''))] }),
    ['line.there', 'policy.none'],
  ],
  ['with the stub', page({ scripts: [script({}, stubText()), LINE] }), ['line.there', 'policy.none', 'stub.there']],
  ['no page', page({ status: 404 }), ['page.status']],
  ['no HTML', page({ isHtml: false }), ['page.notHtml']],
  ['a policy against the script', page(policy("script-src 'self'")), ['line.there', 'policy.script']],
  [
    'a policy against its parts',
    page({ ...policy("script-src 'nonce-n'; connect-src *"), scripts: [script({ ...LINE.attributes, nonce: 'n' })] }),
    ['line.there', 'policy.parts'],
  ],
  ['a policy against sending', page(policy(`script-src ${COLLECTOR}; connect-src 'self'`)), ['line.there', 'policy.connect']],
  [
    'a strict policy by nonce',
    page({
      ...policy("script-src 'nonce-n' 'strict-dynamic'; connect-src https://c.example"),
      scripts: [script({ ...LINE.attributes, nonce: 'n' })],
    }),
    ['line.there', 'policy.allows'],
  ],
] as const)('a page that is %s is told so', (_what, looked, expected) => {
  expect(codes(looked)).toEqual(expected);
});

test('a site that asks for consent, or has no release, is reminded of it', () => {
  expect(codes(page(), { ...EXPECTED, asks: true })).toContain('line.consent');
  expect(codes(page({ scripts: [script({ ...LINE.attributes, 'data-consent': 'ask' })] }), { ...EXPECTED, asks: true })).not.toContain(
    'line.consent',
  );
  expect(codes(page(), { ...EXPECTED, hasRelease: false })).toContain('release.none');
});
