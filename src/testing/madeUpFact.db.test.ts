// A fact that nobody has thought of yet, with a condition that asks for it: a file for each and a line in each table.
import { execFile } from 'node:child_process';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { build } from 'esbuild';
import pg from 'pg';
import type { FreshDatabase } from '../server/testing/freshDatabase';
import { freshDatabase } from '../server/testing/freshDatabase';
import type { Changes } from './copiedTree';
import { faultyFiles, read, ROOT, withCopy } from './copiedTree';

const MIGRATION = `alter table visitor add column colour_scheme text`;

const FACT = `import { z } from 'zod';
import type { Fact } from './fact';
import { inColumn } from './fact';

const schema = () => z.string().max(20);
export const colourSchemeFact: Fact<string, 'open'> = {
  from: 'open',
  schema,
  ...inColumn('colour_scheme', 'text'),
  example: (fc) => fc.constantFrom('dark', 'light'),
};
`;
/** What a fact reaches: nothing of the studio or of what stands beside the product names one. */
const WHERE = ['src/core', 'src/page', 'src/server'];
const CONDITION = read('src/core/people/kinds/adBlocker.ts')
  .replaceAll('adBlocker', 'colourScheme')
  .replaceAll('AdBlocker', 'ColourScheme')
  .replace('colourScheme === is', "(colourScheme === 'dark') === is");

/** A line put beside one that is there. */
function withLine(text: string, beside: string, line: string): string {
  if (!text.includes(beside)) throw new Error(`Nowhere is "${beside}" for the line to stand beside`);
  return text.replace(beside, `${line}\n${beside}`);
}
const both = (path: string, [imported, anImport]: [string, string], [listed, aLine]: [string, string]): [string, string] => [
  path,
  withLine(withLine(read(path), imported, anImport), listed, aLine),
];

const FILES: [string, string][] = [
  ['src/core/facts/colourScheme.ts', FACT],
  ['src/core/people/kinds/colourScheme.ts', CONDITION],
];
/** Each table with its new line. */
const LINES: [string, string][] = [
  both(
    'src/core/facts/facts.ts',
    ["import { teamFact } from './team';", "import { colourSchemeFact } from './colourScheme';"],
    ['  team: teamFact,', '  colourScheme: colourSchemeFact,'],
  ),
  both(
    'src/core/people/condition.ts',
    ["import { teamKind } from './kinds/team';", "import { colourSchemeKind } from './kinds/colourScheme';"],
    ['  team: teamKind,', '  colourScheme: colourSchemeKind,'],
  ),
  both(
    'src/core/people/inPage.ts',
    ["import { cookieHolds } from './kinds/cookie';", "import { colourSchemeHolds } from './kinds/colourScheme';"],
    ['  cookie: cookieHolds,', '  colourScheme: colourSchemeHolds,'],
  ),
  [
    'src/page/facts/openFacts.ts',
    withLine(
      read('src/page/facts/openFacts.ts'),
      '    language: navigator.language,',
      '    colourScheme: (navigator as { colourScheme?: string }).colourScheme,',
    ),
  ],
  [
    'src/server/counting/exprSql.ts',
    withLine(
      read('src/server/counting/exprSql.ts'),
      '  team: (condition, s) =>',
      "  colourScheme: (condition, s) => `(v.colour_scheme = 'dark') = ${s.parameter(condition.is, 'boolean')}`,",
    ),
  ],
];

/** Everything but the lines in these files. */
const without = (...left: string[]): Changes => new Map([...FILES, ...LINES].filter(([path]) => !left.includes(path)));

async function ask(url: string, sql: string): Promise<void> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  await client.query(sql);
  await client.end();
}

/** What the copy's own code makes of a browser that prefers the dark, as a program. */
async function built(root: string): Promise<string> {
  const outfile = join(root, 'dist/followFact.mjs');
  await build({
    entryPoints: [join(root, 'src/testing/followFact.ts')],
    outfile,
    bundle: true,
    platform: 'node',
    format: 'esm',
    packages: 'external',
    alias: { '@': join(root, 'src') },
    logLevel: 'error',
  });
  return outfile;
}

async function follow(program: string, url: string): Promise<unknown> {
  const words = [program, 'colourScheme', 'dark', JSON.stringify({ kind: 'colourScheme', is: true })];
  const { stdout } = await promisify(execFile)(process.execPath, words, { cwd: ROOT, env: { ...process.env, CRINDLE_DATABASE_URL: url } });
  return JSON.parse(stdout);
}

let database: FreshDatabase;
beforeAll(async () => {
  database = await freshDatabase();
});
afterAll(() => database.drop());

test('with a file for the fact, one for the condition, a line in each table and a migration its value goes all the way', async () => {
  await withCopy(without(), async (root) => {
    expect(await faultyFiles(root, WHERE)).toEqual([]);
    const program = await built(root);
    await expect(follow(program, database.url)).rejects.toThrow(/colour_scheme/);
    await ask(database.url, MIGRATION);
    const [one, other] = ['dark', null];
    expect(await follow(program, database.url)).toEqual({
      page: 'dark',
      inPage: [true, null],
      pretended: 'dark',
      rows: [one, other],
      imported: [one, other],
      attributes: [one, other],
      sealed: [one, other],
      evaluated: [true, null],
      lists: [true, null],
      sql: [true, null],
      rehearsed: [true],
    });
  });
}, 900_000);

test.each([
  { left: ['src/core/facts/facts.ts'], named: ['src/core/people/kinds/colourScheme.ts', 'src/page/facts/openFacts.ts'] },
  { left: ['src/core/people/condition.ts'], named: ['src/core/people/inPage.ts', 'src/server/counting/exprSql.ts'] },
  {
    left: ['src/core/people/inPage.ts', 'src/page/facts/openFacts.ts', 'src/server/counting/exprSql.ts'],
    named: ['src/core/people/inPage.ts', 'src/page/facts/openFacts.ts', 'src/server/counting/exprSql.ts'],
  },
])(
  'without the lines in $left the compiler names what lacks them',
  async ({ left, named }) => {
    expect(await withCopy(without(...left), (root) => faultyFiles(root, WHERE))).toEqual(named);
  },
  900_000,
);
