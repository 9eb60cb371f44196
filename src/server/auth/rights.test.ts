import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Role } from '../db/members';
import { may, PAGES, RIGHTS, rightOf, rightOfPage, ROUTES } from './rights';

const app = join(__dirname, '../../app');
const files = (readdirSync(app, { recursive: true }) as string[]).map((name) => name.replaceAll('\\', '/'));
const sourceOf = (name: string): string => readFileSync(join(app, name), 'utf8');
const routes = files
  .filter((name) => name.endsWith('route.ts'))
  .map((name) => ({ path: `/${name.replace(/\/?route\.ts$/, '')}`, source: sourceOf(name) }));

test('every request that there is has a right, and every right is of a request that there is', () => {
  const there = routes.flatMap(({ path, source }) =>
    [...source.matchAll(/^export (?:async )?function (GET|POST|PUT|DELETE|PATCH|HEAD|OPTIONS)\b/gm)].map(
      ([, method]) => `${method} ${path}`,
    ),
  );
  const named = Object.entries(ROUTES).flatMap(([path, methods]) => Object.keys(methods).map((method) => `${method} ${path}`));
  expect(named.sort()).toEqual(there.sort());
});

test('no request goes past the one place that asks what somebody may, but what is for anybody', () => {
  for (const { path, source } of routes)
    for (const handler of source.split(/^(?=export )/m).filter((part) => /^export (async )?function (GET|POST|PUT|DELETE)/.test(part))) {
      const method = /function (\w+)/.exec(handler)?.[1] ?? '';
      const isOpen = rightOf(path, method) === 'anybody';
      expect([path, method, /\b(answer|download|answerInBytes|answerInLines|answerInEvents)\(\s*request,/.test(handler)]).toEqual([
        path,
        method,
        !isOpen,
      ]);
    }
  expect(
    Object.values(ROUTES)
      .flatMap((methods) => Object.values(methods))
      .filter((right) => right === 'anybody'),
  ).toHaveLength(1);
});

test('every screen of the studio has a right, and asks for it', () => {
  const pages = files.filter((name) => name.startsWith('(studio)/') && name.endsWith('page.tsx'));
  expect(pages.map((name) => `/${name.slice('(studio)/'.length).replace(/\/?page\.tsx$/, '')}`).sort()).toEqual(Object.keys(PAGES).sort());
  for (const name of pages) expect([name, /await (requireSite|requireMember)\(|redirect\(/.test(sourceOf(name))]).toEqual([name, true]);
});

test('a path is found whatever stands in its places, and what is named in full goes first', () => {
  expect(rightOf('/api/leads/0199', 'PUT')).toBe('answer');
  expect(rightOf('/api/campaigns/order', 'PUT')).toBe('edit');
  expect(rightOf('/api/visits/some', 'POST')).toBe('look');
  expect(rightOfPage('/leads/0199/')).toBe('people');
  for (const [path, method] of [
    ['/api/leads', 'DELETE'],
    ['/api/leads/a/b', 'PUT'],
    ['/leadsXcsv', 'GET'],
    ['/api/constructor', 'GET'],
    ['/api/leads', 'constructor'],
    ['', 'GET'],
  ] as const)
    expect([path, rightOf(path, method)]).toEqual([path, undefined]);
});

test('who may more may all that others may; a viewer neither sees people nor takes data out', () => {
  const of = (role: Role) => RIGHTS.filter((right) => may(role, right));
  expect(of('owner')).toEqual(RIGHTS);
  expect(of('editor')).toEqual(RIGHTS.filter((right) => right !== 'own'));
  expect(of('agent')).toEqual(['self', 'look', 'people', 'answer']);
  expect(of('viewer')).toEqual(['self', 'look']);
});
