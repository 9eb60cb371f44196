// The running stack that scripts/browser.mjs started, and what a visitor and a marketer do with it.
import { spawn } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Locator, Page } from '@playwright/test';
import { expect } from '@playwright/test';
import pg from 'pg';
import { enter } from '../src/server/auth/signIn';

interface Stack {
  readonly STUDIO: string;
  readonly SITE: string;
  readonly COLLECTOR: string;
  /** Where its pid files are. */
  readonly RUN: string;
}

/** Each worker has a stack of its own. */
function ownStack(): Stack {
  const { STACKS, TEST_PARALLEL_INDEX } = process.env;
  const stack = (JSON.parse(STACKS ?? '[]') as Stack[])[Number(TEST_PARALLEL_INDEX ?? 0)];
  if (!stack) throw new Error('STACKS is not set; run ./crindle test browser');
  return stack;
}

export const { STUDIO, SITE, COLLECTOR, RUN } = ownStack();

const INES = 'ines@tarnhollow.example';

/** Through the door, as people come in. */
export async function signInAtTheDoor(page: Page): Promise<void> {
  await page.goto(`${STUDIO}/sign-in`);
  await page.getByLabel('Email').fill(INES);
  await page.getByLabel('Password').fill('lantern-col');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await page.waitForURL('**/today');
  await untilAtWork(page);
}

/** Lets a browser be signed in as somebody of the demo, in a session of its own; opens no screen. */
export async function signIn(page: Page, email = INES): Promise<void> {
  const token = await withDatabase(async (db) => {
    const { rows } = await db.query<{ id: number }>(`select id from member where email = $1`, [email]);
    if (!rows[0]) throw new Error(`Nobody has the email ${email}`);
    return enter(db, rows[0].id, {});
  });
  await page.context().addCookies([{ name: 'crindle_session', value: token, url: STUDIO, httpOnly: true, sameSite: 'Lax' }]);
}

/** Opens a screen of the studio and waits until it hears what is done to it. */
export async function openStudio(page: Page, path: string): Promise<void> {
  await page.goto(STUDIO + path);
  await untilAtWork(page);
}

/** Opens a menu and takes one of its items: a menu that has just been used may close the next once more, as it gives the focus back. */
export async function takeFrom(page: Page, opener: Locator, item: string): Promise<void> {
  const offered = page.getByRole('menuitem', { name: item, exact: true });
  await expect(async () => {
    if (!(await offered.isVisible())) await opener.click();
    await offered.click({ timeout: 5000 });
  }).toPass();
  await expect(offered).toHaveCount(0);
}

/** A page made by the server is there before its buttons do anything: waits until React has taken each of them over. */
export async function untilAtWork(page: Page): Promise<void> {
  await page.waitForFunction(() => {
    const buttons = [...document.querySelectorAll('button')];
    return buttons.length > 0 && buttons.every((button) => Object.keys(button).some((key) => key.startsWith('__reactProps')));
  });
  // What a screen says of why it is not there is better known than a time that ran out.
  expect(await page.getByRole('main').getByText('This screen could not be loaded').locator('..').allInnerTexts()).toEqual([]);
}

/** Opens one of the four families of a rule, and waits until it is open: the sentence above it may still be growing. */
export async function openFamily(page: Page, name: string): Promise<void> {
  const button = page.getByRole('button', { name });
  await expect(async () => {
    if ((await button.getAttribute('aria-expanded')) !== 'true') await button.click();
    expect(await button.getAttribute('aria-expanded')).toBe('true');
  }).toPass();
}

/** Opens a page of the demo site and waits until the page script has heard from the collector. */
export async function visit(page: Page, path: string): Promise<void> {
  const told = page.waitForResponse((response) => response.url() === `${COLLECTOR}/c` && response.ok());
  await page.goto(SITE + path);
  await told;
}

/** Asks the stack's database. */
export const ask = <R extends Record<string, unknown>>(sql: string, values: unknown[] = []): Promise<R[]> =>
  withDatabase(async (db) => (await db.query<R>(sql, values)).rows);

async function withDatabase<T>(work: (db: pg.Client) => Promise<T>): Promise<T> {
  const client = new pg.Client({ connectionString: databaseUrl() });
  await client.connect();
  try {
    return await work(client);
  } finally {
    await client.end();
  }
}

/** The command line as the built tree has it. */
export const cli = (...words: string[]): string[] => ['dist/server/cli.mjs', ...words];

/** As the collector has it, read from its own environment. */
export function databaseUrl(): string {
  return environmentOf('collector')['CRINDLE_DATABASE_URL'] ?? '';
}

/** The same database as the role that moves sites has it. */
export const keeperUrl = (): string =>
  databaseUrl().replace(/\/\/[^@]*@/, `//keeper:${readFileSync(join(RUN, '..', 'db', 'keeper-secret'), 'utf8').trim()}@`);

const environments = new Map<string, Record<string, string>>();

/** What a process of the stack was started with; known from the first look on, also once it has ended. */
export function environmentOf(name: string): Record<string, string> {
  const known = environments.get(name);
  if (known) return known;
  const met = Object.fromEntries(
    readFileSync(`/proc/${pidOf(name)}/environ`, 'utf8')
      .split('\0')
      .filter(Boolean)
      .map((pair) => [pair.slice(0, pair.indexOf('=')), pair.slice(pair.indexOf('=') + 1)]),
  );
  environments.set(name, met);
  return met;
}

const pidOf = (name: string): number => Number(readFileSync(join(RUN, `${name}.pid`), 'utf8').split(' ')[0]);

export async function stopCollector(): Promise<void> {
  environmentOf('collector');
  process.kill(pidOf('collector'), 'SIGTERM');
  await expect.poll(isUp, { intervals: [50] }).toBe(false);
}

export async function startCollector(): Promise<void> {
  const child = spawn('scripts/keep.sh', [join(RUN, 'collector.restarts'), 'node', 'dist/server/collector.mjs'], {
    env: { ...environmentOf('collector'), NODE_ENV: 'production' },
    detached: true,
    stdio: 'ignore',
  });
  child.unref();
  const stat = readFileSync(`/proc/${child.pid}/stat`, 'utf8').replace(/^.*\) /, '');
  writeFileSync(join(RUN, 'collector.pid'), `${child.pid} ${stat.split(' ')[19]}\n`);
  await expect.poll(isUp, { intervals: [50] }).toBe(true);
}

/** For how long a process of the stack has been there, in seconds. */
export function uptimeOf(name: string): number {
  const started =
    Number(
      readFileSync(`/proc/${pidOf(name)}/stat`, 'utf8')
        .replace(/^.*\) /, '')
        .split(' ')[19],
    ) / 100;
  return Number(readFileSync('/proc/uptime', 'utf8').split(' ')[0]) - started;
}

/** Ends a process as a fault of its own or the system would: by itself, unasked. */
export function killProcess(name: string): void {
  const keeper = pidOf(name);
  const [child] = readFileSync(`/proc/${keeper}/task/${keeper}/children`, 'utf8').trim().split(' ');
  if (!child) throw new Error(`The ${name} is not running`);
  process.kill(Number(child), 'SIGKILL');
}

export const isUp = (): Promise<boolean> =>
  fetch(`${COLLECTOR}/health`).then(
    ({ ok }) => ok,
    () => false,
  );
