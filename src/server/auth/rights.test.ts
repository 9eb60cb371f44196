import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Role } from '../db/members';
import { may, PAGES, RIGHTS, rightOfPage } from './rights';

const app = join(__dirname, '../../app');
const files = (readdirSync(app, { recursive: true }) as string[]).map((name) => name.replaceAll('\\', '/'));
const sourceOf = (name: string): string => readFileSync(join(app, name), 'utf8');
test('every screen of the studio has a right, and asks for it', () => {
  const pages = files.filter((name) => name.startsWith('(studio)/') && name.endsWith('page.tsx'));
  expect(
    pages
      .map(
        (name) =>
          `/${name
            .slice('(studio)/'.length)
            .replace(/\/?page\.tsx$/, '')
            .replace(/\[(\w+)\]/g, '{$1}')}`,
      )
      .sort(),
  ).toEqual(Object.keys(PAGES).sort());
  for (const name of pages) expect([name, /await (requireSite|requireMember)\(|redirect\(/.test(sourceOf(name))]).toEqual([name, true]);
});

test('a screen is found whatever stands in its places, and what is named in full goes first', () => {
  expect(rightOfPage('/leads/0199/')).toBe('people');
  expect(rightOfPage('/campaigns/begin')).toBe('look');
  for (const path of ['/leads/a/b', '/constructor', '', '/setup/nothing']) expect([path, rightOfPage(path)]).toEqual([path, undefined]);
});

test('who may more may all that others may; a viewer neither sees people nor takes data out', () => {
  const of = (role: Role) => RIGHTS.filter((right) => may(role, right));
  expect(of('owner')).toEqual(RIGHTS);
  expect(of('editor')).toEqual(RIGHTS.filter((right) => right !== 'own'));
  expect(of('agent')).toEqual(['self', 'look', 'people', 'answer']);
  expect(of('viewer')).toEqual(['self', 'look']);
});
