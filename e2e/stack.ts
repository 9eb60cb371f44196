// The running stack that scripts/browser.mjs started, and what a visitor and a marketer do with it.
import { spawn } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { AxeBuilder } from '@axe-core/playwright';
import type { Browser, BrowserContext, Locator, Page, Request } from '@playwright/test';
import { expect } from '@playwright/test';
import pg from 'pg';

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

export async function signIn(page: Page, email = 'ines@tarnhollow.example'): Promise<void> {
  await page.goto(`${STUDIO}/sign-in`);
  await page.getByLabel('Email').fill(email);
  await page.getByLabel('Password').fill('lantern-col');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await page.waitForURL('**/today');
  await untilAtWork(page);
}

/** Opens a screen of the studio and waits until it hears what is done to it. */
export async function openStudio(page: Page, path: string): Promise<void> {
  await page.goto(STUDIO + path);
  await untilAtWork(page);
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

/** What axe finds on a screen, once that has its title: going from one to another there is none for a moment. */
export async function faultsOf(page: Page): Promise<(string | undefined)[][]> {
  await expect(page).toHaveTitle(/./);
  return (await new AxeBuilder({ page }).analyze()).violations.map(({ id, nodes }) => [id, nodes[0]?.html]);
}

/** Opens one of the four families of a rule, and waits until it is open: the sentence above it may still be growing. */
export async function openFamily(page: Page, name: string): Promise<void> {
  const button = page.getByRole('button', { name });
  await expect(async () => {
    if ((await button.getAttribute('aria-expanded')) !== 'true') await button.click();
    expect(await button.getAttribute('aria-expanded')).toBe('true');
  }).toPass();
}

/** A browser of its own, as every visitor has one. */
export async function newVisitor(
  browser: Browser,
  options: Parameters<Browser['newContext']>[0] = {},
): Promise<{ context: BrowserContext; page: Page }> {
  const context = await browser.newContext(options);
  const flying = new Set<Request>();
  // A beacon is never heard of again once its page has gone.
  context.on('request', (request) => request.resourceType() !== 'ping' && flying.add(request));
  context.on('requestfinished', (request) => flying.delete(request));
  context.on('requestfailed', (request) => flying.delete(request));
  underWay.set(context, flying);
  return { context, page: await context.newPage() };
}

const underWay = new WeakMap<BrowserContext, ReadonlySet<Request>>();

/** Until the browser has drawn two frames: what it tells by itself (scrolling, elements in view) has been told by then. Needs no clock. */
export async function drawn(page: Page): Promise<void> {
  await page.evaluate(async () => {
    for (let frame = 0; frame < 2; frame++)
      await new Promise<void>((done) => {
        const observer = new IntersectionObserver(() => {
          observer.disconnect();
          done();
        });
        observer.observe(document.documentElement);
      });
  });
}

/** Until nothing is under way any more, so that what was going to show has shown: requests are answered and what they led to is drawn. */
export async function settled(page: Page): Promise<void> {
  const flying = underWay.get(page.context());
  for (let quiet = 0; quiet < 3;) {
    await drawn(page);
    quiet = flying?.size ? 0 : quiet + 1;
  }
}

/** Until what is there has come in whole. */
export async function still(what: Locator): Promise<void> {
  await what.evaluate((element) => Promise.all(element.getAnimations({ subtree: true }).map(({ finished }) => finished)));
}

/** Opens a page of the demo site and waits until the page script has heard from the collector. */
export async function visit(page: Page, path: string): Promise<void> {
  const told = page.waitForResponse((response) => response.url() === `${COLLECTOR}/c` && response.ok());
  await page.goto(SITE + path);
  await told;
}

export async function scrollTo(page: Page, share: number): Promise<void> {
  await page.evaluate((to) => window.scrollTo(0, (document.documentElement.scrollHeight - innerHeight) * to), share);
  await drawn(page);
}

/** The pointer goes out of the window through its top edge. */
export async function moveToLeave(page: Page): Promise<void> {
  await page.mouse.move(500, 300);
  await page.mouse.move(500, 4);
  await page.mouse.move(500, -4);
  await settled(page);
}

export const popup = (page: Page) => page.locator('[data-crindle] dialog');

/** Asks the stack's database. */
export async function ask<R extends Record<string, unknown>>(sql: string, values: unknown[] = []): Promise<R[]> {
  const client = new pg.Client({ connectionString: databaseUrl() });
  await client.connect();
  try {
    return (await client.query<R>(sql, values)).rows;
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
