import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import { z } from 'zod';
import { rule } from '../rules/testing/arbitrary';
import { jsonSchemas } from './jsonSchema';

const folder = join(__dirname, '../../../docs/formats');
const schemas = jsonSchemas();

test('the published formats are those of the code; `node dist/server/cli.mjs formats` writes them', () => {
  expect(
    readdirSync(folder)
      .filter((name) => name.endsWith('.schema.json'))
      .sort(),
  ).toEqual(Object.keys(schemas).sort());
  for (const [name, schema] of Object.entries(schemas))
    expect({ name, schema: JSON.parse(readFileSync(join(folder, name), 'utf8')) as unknown }).toEqual({
      name,
      schema: JSON.parse(JSON.stringify(schema)) as unknown,
    });
});

test('what the rule language takes, the published schema takes, and what is of no known kind it refuses', () => {
  const published = z.fromJSONSchema(schemas['rule.schema.json'] as Parameters<typeof z.fromJSONSchema>[0]);
  fc.assert(
    fc.property(rule, (one) => {
      const parsed = published.safeParse(JSON.parse(JSON.stringify(one)));
      expect(parsed.success ? undefined : parsed.error.issues).toBeUndefined();
    }),
  );
  for (const bad of [{ people: { kind: 'nobody' } }, { moment: { all: 'open' } }, { colour: 1 }, { pacing: { again: 'often' } }])
    expect(published.safeParse(bad).success).toBe(false);
});
