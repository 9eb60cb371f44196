// What each request of the studio's API answers, as JSON Schema from the types of its code: writes src/server/openapi/answers.json.
// With `--check` it only says whether that file is what it would write.
import { readFileSync, unlinkSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import prettier from 'prettier';

// The checker that the generator brings along.
const require = createRequire(createRequire(import.meta.url).resolve('typescript-json-schema'));
const TJS = createRequire(import.meta.url)('typescript-json-schema');
const ts = require('typescript');

const root = new URL('..', import.meta.url).pathname;
const target = join(root, 'src/server/openapi/answers.json');
const entry = join(root, 'src/server/api/answersOfAll.ts');

const written = await prettier.format(JSON.stringify(answers()), { ...(await prettier.resolveConfig(target)), parser: 'json' });
if (!process.argv.includes('--check')) writeFileSync(target, written);
else if (readFileSync(target, 'utf8') !== written) {
  console.error('src/server/openapi/answers.json is not what the code answers; node scripts/answers.mjs writes it');
  process.exitCode = 1;
}

function answers() {
  writeFileSync(
    entry,
    `import type { Api } from './table';
type Sent<A> = [A] extends [never] ? never : [A] extends [void] ? { readonly ok: true } : undefined extends A ? Exclude<A, undefined> | { readonly ok: true } : A;
export type Answers = { readonly [K in keyof Api as [Api[K]['answer']] extends [never] ? never : K]: Sent<Api[K]['answer']> };
`,
  );
  try {
    const { options } = ts.parseJsonConfigFileContent(ts.readConfigFile(join(root, 'tsconfig.json'), ts.sys.readFile).config, ts.sys, root);
    const program = ts.createProgram([entry], { ...options, types: ['node'], plugins: undefined, incremental: false });
    const generator = TJS.buildGenerator(program, { required: true, ignoreErrors: true, ref: true, aliasRef: false, topRef: false });
    const { properties, definitions = {} } = generator.getSchemaForSymbol('Answers');
    return tidied({ properties, definitions });
  } finally {
    unlinkSync(entry);
  }
}

/** Names stay where they are names; what has a type's text for its name stands where it is used, unless it has itself in it. */
function tidied({ properties, definitions }) {
  const isName = (name) => /^\w+$/.test(name);
  const named = {};
  const nameOf = (name) =>
    name
      .replace(/^(\w+)<(\w+)>$/, '$2$1')
      .replace(/\W+/g, '_')
      .slice(0, 60);
  const open = new Set();
  const inline = (node) => {
    if (Array.isArray(node)) return node.map(inline);
    if (typeof node !== 'object' || node === null) return node;
    if (typeof node.$ref !== 'string') return Object.fromEntries(Object.entries(node).map(([key, value]) => [key, inline(value)]));
    const name = decodeURIComponent(node.$ref.replace('#/definitions/', ''));
    if (isName(name) || /^\w+<\w+>$/.test(name) || open.has(name)) {
      keep(name);
      return { $ref: `#/components/schemas/${nameOf(name)}` };
    }
    open.add(name);
    const shape = inline(definitions[name]);
    open.delete(name);
    return shape;
  };
  const keep = (name) => {
    if (nameOf(name) in named) return;
    named[nameOf(name)] = null;
    named[nameOf(name)] = inline(definitions[name]);
  };
  const sorted = (object) => Object.fromEntries(Object.entries(object).sort(([a], [b]) => (a < b ? -1 : 1)));
  return { answers: sorted(inline(properties)), schemas: sorted(named) };
}
