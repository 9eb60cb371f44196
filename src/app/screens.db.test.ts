// What a screen is drawn from does not grow with the site.
import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { PATH_HEADER } from '@/server/auth/path';
import { SESSION_COOKIE } from '@/server/auth/sessionCookie';
import type { BigSite } from '@/server/testing/bigSite';
import { bigSite, LEAD, MOST_OF_A_PAGE } from '@/server/testing/bigSite';

const mockAsked = { path: '', token: '', cookie: '' };
jest.mock('next/headers', () => ({
  headers: () => Promise.resolve(new Headers({ 'x-crindle-path': mockAsked.path })),
  cookies: () => Promise.resolve({ get: (name: string) => (name === mockAsked.cookie ? { value: mockAsked.token } : undefined) }),
}));
/** What is worked out of everything is asked the more seldom the longer it takes: here once, however quick it is. */
jest.mock('@/server/db/seldom', () => {
  const kept = new Map<string, unknown>();
  return {
    WATCHED_MS: 0,
    seldom: (_db: unknown, key: string, ask: () => unknown) => {
      if (!kept.has(key)) kept.set(key, ask());
      return kept.get(key);
    },
  };
});

/** One of each, to be opened. */
const ONES: Readonly<Record<string, string>> = {
  campaigns: 'camp_big',
  segments: 'seg_big',
  leads: LEAD,
  visitors: '5',
  places: 'place_big',
  goals: 'goal_big',
  'page-sets': 'set_big',
  connections: 'conn_big',
};

/** How many leads there are is counted by an index: of a hundred visitors one leaves one. */
const COUNTED = 'select count(*)::int as count from lead where';

let site: BigSite;
beforeAll(async () => {
  site = await bigSite();
  Object.assign(mockAsked, { token: site.token, cookie: SESSION_COOKIE });
  expect(PATH_HEADER).toBe('x-crindle-path');
});
afterAll(() => site.end());

const ROOT = join(__dirname, '(studio)');
const SCREENS = readdirSync(ROOT, { recursive: true, encoding: 'utf8' }).filter((file) => /.\/page\.tsx$/.test(file));
type Screen = (given: { params: Promise<object>; searchParams: Promise<object> }) => unknown;

/** What its statements look at is explained as they run. */
async function open(file: string): Promise<void> {
  const { default: screen } = (await import(join(ROOT, file))) as { default: Screen };
  mockAsked.path = `/${file.replace(/\/page\.tsx$/, '')}`;
  const id = ONES[file.split('/').at(-3) ?? ''];
  site.explained.seen.length = 0;
  await screen({ params: Promise.resolve({ id }), searchParams: Promise.resolve({}) });
}

test('what stands round every screen', async () => {
  jest.spyOn(console, 'error').mockImplementation(() => undefined); // The analysis, which is warmed up for whoever comes, is away.
  const { default: layout } = (await import(join(ROOT, 'layout.tsx'))) as { default: (given: { children: null }) => unknown };
  mockAsked.path = '/today';
  await layout({ children: null });
  site.explained.seen.length = 0;
  await layout({ children: null });
  expect(site.explained.seen.length).toBeGreaterThan(0);
  expect(site.explained.seen.filter(({ rows }) => rows > MOST_OF_A_PAGE)).toEqual([]);
});

test.each(SCREENS)('%s', async (file) => {
  await open(file);
  expect(site.explained.seen.length).toBeGreaterThan(0);
  await open(file);
  const wrong = site.explained.seen.filter(({ rows, sql }) => rows > MOST_OF_A_PAGE && !sql.startsWith(COUNTED));
  expect(wrong.map(({ table, rows, sql }) => `${rows} of ${table}: ${sql.replace(/\s+/g, ' ').slice(0, 200)}`)).toEqual([]);
});
