import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { parseWith } from './parse';
import { z } from 'zod';

const ROOT = join(__dirname, '..', '..');
const codes = new Set(
  readdirSync(ROOT, { recursive: true, encoding: 'utf8' })
    .filter((file) => /\.tsx?$/.test(file) && !file.includes('.test.'))
    .flatMap((file) => [...readFileSync(join(ROOT, file), 'utf8').matchAll(/error: '([a-z]+\.[a-zA-Z]+)'/g)].map(([, code]) => code ?? '')),
);

test('there are codes of what is wrong', () => expect(codes.size).toBeGreaterThan(20));

test.each([...codes].sort())('what is wrong by %s is told in words', (code) => {
  const parsed = parseWith(
    z.unknown().refine(() => false, { error: code }),
    1,
  );
  expect(parsed.ok ? [] : parsed.issues.map(({ expected }) => expected)).not.toEqual([code]);
});
