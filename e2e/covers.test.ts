import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { specsOf } from '../scripts/checks/changed.mjs';

const covers = JSON.parse(readFileSync(join(__dirname, 'covers.json'), 'utf8')) as Record<string, string[]>;
const specs = ['', 'alone/'].flatMap((folder) =>
  readdirSync(join(__dirname, folder))
    .filter((name) => name.endsWith('.spec.ts'))
    .map((name) => folder + name.replace('.spec.ts', '')),
);

test('every browser test covers some folder, and every folder and test that the table names is there', () => {
  expect([...new Set(Object.values(covers).flat())].filter((name) => !specs.includes(name))).toEqual([]);
  expect(specs.filter((name) => !Object.values(covers).flat().includes(name))).toEqual([]);
  expect(Object.keys(covers).filter((folder) => !existsSync(folder))).toEqual([]);
});

test('whatever is changed in the source is covered by some browser test', () => {
  const folders = ['src', 'demo', 'standins'].flatMap((root) =>
    readdirSync(root, { withFileTypes: true, recursive: true }).filter((entry) => entry.isDirectory()),
  );
  const bare = folders
    .map(({ path, name }) => join(path, name))
    .filter((folder) => !/\/testing$/.test(folder) && specsOf([`${folder}/any.ts`], covers).length === 0);
  expect(bare).toEqual([]);
});

test('the nearest folder counts, a test is run for itself, and a unit test asks for none', () => {
  const table = { src: ['story'], 'src/page': ['page'], 'src/page/chat': ['chat'] };
  expect(specsOf(['src/page/chat/person.ts'], table)).toEqual(['chat']);
  expect(specsOf(['src/page/main.ts', 'src/core/interner.ts'], table)).toEqual(['page', 'story']);
  expect(specsOf(['e2e/alone/foreign.spec.ts', 'src/page/state.test.ts', 'README.md'], table)).toEqual(['alone/foreign']);
});
