import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { DATA_MAP, visitorTables } from './dataMap';

const doc = readFileSync(join(__dirname, '../../../docs/privacy.md'), 'utf8');

test('docs/privacy.md says of every table what this map says', () => {
  const rows = Object.entries(DATA_MAP).map(([table, { whose, what, kept }]) => `| \`${table}\` | ${whose} | ${what} | ${kept ?? ''} |`);
  for (const row of rows) expect(doc).toContain(row);
});

test('whatever is of visitors says as long as what it is kept', () => {
  for (const table of visitorTables())
    expect([table, DATA_MAP[table]?.kept]).toEqual([table, expect.stringMatching(/^(visits|leads|conversations)$/)]);
});
