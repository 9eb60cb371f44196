// Builds the page script, the servers and the command line with esbuild into dist/. `--size` prints what the page script weighs.
import { createHash } from 'node:crypto';
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { brotliCompressSync } from 'node:zlib';
import { build } from 'esbuild';

const root = new URL('..', import.meta.url).pathname;
const page = `${root}dist/page/`;
rmSync(`${root}dist`, { recursive: true, force: true });
mkdirSync(page, { recursive: true });

const shared = {
  bundle: true,
  minify: true,
  target: 'es2022',
  tsconfig: `${root}tsconfig.json`,
  logLevel: 'warning',
  legalComments: 'none',
};

async function buildPart(entry, format, define = {}) {
  const result = await build({ ...shared, entryPoints: [`${root}src/page/${entry}`], format, define, write: false, platform: 'browser' });
  return result.outputFiles[0].contents;
}

/** Parts are named by their content, so that browsers may keep them for ever. */
async function buildNamedPart(name, entry) {
  const contents = await buildPart(entry, 'esm');
  const file = `${name}-${createHash('sha256').update(contents).digest('base64url').slice(0, 12)}.js`;
  writeFileSync(page + file, contents);
  return { contents, path: JSON.stringify(`parts/${file}`) };
}

const show = await buildNamedPart('show', 'show/show.ts');
const decide = await buildNamedPart('decide', 'decide/decide.ts');
const main = await buildPart('main.ts', 'iife', { __SHOW_PART__: show.path, __DECIDE_PART__: decide.path });
writeFileSync(`${page}page.js`, main);

const sizes = Object.entries({ page: main, decide: decide.contents, show: show.contents }).map(([part, contents]) => [
  part,
  { plain: contents.length, brotli: brotliCompressSync(contents).length },
]);
writeFileSync(`${page}sizes.json`, JSON.stringify(Object.fromEntries(sizes), null, 2));
for (const [part, { plain, brotli }] of sizes) console.log(`  page script, ${part}: ${plain} bytes, ${brotli} with brotli`);

await build({
  ...shared,
  minify: false,
  entryPoints: {
    collector: `${root}src/server/collector/main.ts`,
    worker: `${root}src/server/jobs/main.ts`,
    standins: `${root}src/standins/main.ts`,
    site: `${root}src/demo/site/main.ts`,
    cli: `${root}src/cli/main.ts`,
    bench: `${root}src/bench/main.ts`,
  },
  outdir: `${root}dist/server`,
  outExtension: { '.js': '.mjs' },
  platform: 'node',
  format: 'esm',
  packages: 'external',
  splitting: true,
  sourcemap: true,
});
