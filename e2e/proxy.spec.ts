// The studio and the collector behind a real reverse proxy with a certificate, as docs/nginx.conf sets one up.
import type { ChildProcess } from 'node:child_process';
import { execFileSync, spawn } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { freePort } from '../src/server/testing/freePort';
import { newUuid, openItem } from '../src/server/testing/items';
import { SecondProcess } from './second';
import { ask, SITE, untilAtWork } from './stack';

let folder = '';
let nginx: ChildProcess | undefined;
const seconds: SecondProcess[] = [];
const [ports, urls] = [
  { studio: 0, collector: 0 },
  { studio: '', collector: '' },
];

test.beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'crindle-proxy-'));
  for (const name of ['studio', 'collector'] as const) {
    ports[name] = await freePort();
    urls[name] = `https://127.0.0.1:${ports[name]}`;
  }
  const env = { CRINDLE_STUDIO: urls.studio, CRINDLE_COLLECTOR: urls.collector, CRINDLE_TRUST_PROXY: '1' };
  const [studio, collector] = [await SecondProcess.start('studio', env), await SecondProcess.start('collector', env)];
  seconds.push(studio, collector);
  execFileSync(
    'openssl',
    `req -x509 -newkey ec -pkeyopt ec_paramgen_curve:prime256v1 -nodes -days 2 -subj /CN=127.0.0.1 -addext subjectAltName=IP:127.0.0.1 -keyout ${folder}/key -out ${folder}/pem`.split(
      ' ',
    ),
    { stdio: 'ignore' },
  );
  let nth = 0;
  const config = readFileSync(new URL('../docs/nginx.conf', import.meta.url), 'utf8')
    .replace(/listen 443 ssl/g, () => `listen 127.0.0.1:${[ports.studio, ports.collector][nth++]} ssl`)
    .replace(/\/etc\/ssl\/[\w.]+\.(pem|key)/g, `${folder}/$1`)
    .replace('/run/nginx.pid', `${folder}/pid`)
    .replace('127.0.0.1:4700', new URL(studio.url).host)
    .replace('127.0.0.1:4701', new URL(collector.url).host)
    .replace(
      'http {',
      `http {\n  ${['client_body', 'proxy', 'fastcgi', 'uwsgi', 'scgi'].map((one) => `${one}_temp_path ${folder}/${one};`).join(' ')}`,
    );
  expect(nth).toBe(2);
  writeFileSync(join(folder, 'nginx.conf'), config);
  nginx = spawn('/usr/sbin/nginx', ['-c', join(folder, 'nginx.conf'), '-e', join(folder, 'error.log'), '-g', 'daemon off;'], {
    stdio: 'ignore',
  });
});
test.afterAll(async () => {
  nginx?.kill('SIGTERM');
  for (const second of seconds) await second.kill();
  rmSync(folder, { recursive: true, force: true });
});

test('signing in over HTTPS sets a cookie that no other host can, streams come through, and whoever writes an address themselves is not believed', async ({
  browser,
}) => {
  const context = await browser.newContext({ ignoreHTTPSErrors: true, extraHTTPHeaders: { 'x-forwarded-for': '198.51.100.7' } });
  const page = await context.newPage();
  await expect(async () => void (await page.goto(`${urls.studio}/sign-in`))).toPass();
  await page.getByLabel('Email').fill('ines@tarnhollow.example');
  await page.getByLabel('Password').fill('not it');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('alert').filter({ hasText: 'do not go together' })).toBeVisible();
  const subjects = (await ask<{ subject: string }>(`select subject from sign_in_attempt where at > now() - interval '1 minute'`)).map(
    ({ subject }) => subject,
  );
  expect(subjects).toContain('address 127.0.0.1');
  expect(subjects.filter((subject) => subject.includes('198.51.100.7'))).toEqual([]);
  await page.getByLabel('Password').fill('lantern-col');
  const [landed] = await Promise.all([
    page.waitForResponse((response) => response.url().endsWith('/today') && response.ok()),
    page.getByRole('button', { name: 'Sign in' }).click(),
  ]);
  expect(landed.url()).toContain(urls.studio);
  await page.waitForURL('**/today');
  await untilAtWork(page);
  const cookies = await context.cookies();
  expect(cookies.find(({ name }) => name === '__Host-crindle_session')).toMatchObject({
    secure: true,
    httpOnly: true,
    sameSite: 'Lax',
    path: '/',
  });
  const headers = (await page.request.get(`${urls.studio}/sign-in`)).headers();
  expect(headers['strict-transport-security']).toMatch(/max-age=\d{8}/);
  expect(headers['content-security-policy']).toMatch(/script-src 'self' 'nonce-[^']+' 'strict-dynamic'/);
  expect(headers['content-security-policy']).toContain("frame-ancestors 'none'");
  expect(headers).toMatchObject({
    'cross-origin-opener-policy': 'same-origin',
    'x-content-type-options': 'nosniff',
    'referrer-policy': 'same-origin',
  });
  expect(headers['x-powered-by']).toBeUndefined();
  for (const path of ['/api/leads/%ff', '/%', '/%c0%af..'])
    expect([path, (await fetch(`${seconds[0]?.url}${path}`)).status]).toEqual([path, 400]);
  const first = await page.evaluate(
    () =>
      new Promise<string>((resolve, reject) => {
        const stream = new EventSource('/api/live');
        stream.addEventListener('news', ({ data }: MessageEvent<string>) => resolve(data));
        stream.onerror = () => reject(new Error('no stream'));
      }),
  );
  expect(JSON.parse(first)).toBeTruthy();
  await context.close();
});

test('pages reach the collector by HTTPS, whose numbers stay the operator’s', async ({ playwright }) => {
  const request = await playwright.request.newContext({ ignoreHTTPSErrors: true });
  const [site] = await ask<{ key: string }>(`select key from site where name = 'Tarnhollow Huts'`);
  const item = openItem({ url: `${SITE}/huts` });
  const answer = await request.post(`${urls.collector}/c`, {
    data: JSON.stringify({ key: site?.key, browser: newUuid(), now: Date.now(), items: [item] }),
    headers: {
      origin: SITE,
      'content-type': 'text/plain',
      'user-agent': 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0.0.0 Safari/537.36',
    },
  });
  expect(await answer.json()).toMatchObject({ items: [{ ok: true }] });
  expect((await request.get(`${urls.collector}/metrics`)).status()).toBe(404);
  expect((await request.get(`${urls.collector}/health`)).status()).toBe(200);
  await request.dispose();
});
