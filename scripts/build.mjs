// Builds the page script, the servers and the command line with esbuild into dist/. `--size` prints what the page script weighs.
import { createHash } from 'node:crypto';
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { brotliCompressSync } from 'node:zlib';
import { build } from 'esbuild';
import { minify } from 'terser';
import { innerNames } from './innerNames.mjs';

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

/** No module of ours does anything by being imported: what a part does not use of one is left out. */
const nothingByImport = {
  name: 'nothing-by-import',
  setup({ onResolve, resolve }) {
    onResolve({ filter: /^(\.|@\/)/ }, async ({ path, pluginData, kind, resolveDir, importer }) => {
      if (pluginData === 'met' || kind === 'entry-point') return undefined;
      const found = await resolve(path, { kind, resolveDir, importer, pluginData: 'met' });
      return { path: found.path, errors: found.errors, sideEffects: false };
    });
  },
};

/** What a try-out is made of is the page script itself, with these modules in the place of those of the same name. */
const INSTEAD = ['store', 'outbox', 'clock', 'consent', 'view', 'sensors/sensor'];
const tryingInstead = {
  name: 'trying-instead',
  setup({ onResolve, resolve }) {
    const instead = new Map(INSTEAD.map((name) => [`${root}src/page/${name}.ts`, `${root}src/page/tryout/${name.split('/').at(-1)}.ts`]));
    onResolve({ filter: /^\./ }, async ({ path, pluginData, kind, resolveDir, importer }) => {
      // What stands there in another's place may go on to it.
      if (pluginData === 'met' || kind === 'entry-point' || importer.startsWith(`${root}src/page/tryout/`)) return undefined;
      const found = await resolve(path, { kind, resolveDir, importer, pluginData: 'met' });
      const other = instead.get(found.path);
      return other && { path: other, sideEffects: false };
    });
  },
};

const inner = innerNames(`${root}docs/`);
const nameCache = {};

async function buildPart(entry, format, define = {}, plugins = []) {
  const result = await build({
    ...shared,
    plugins: [...plugins, nothingByImport],
    entryPoints: [`${root}src/page/${entry}`],
    format,
    define,
    write: false,
    platform: 'browser',
  });
  // Fifty bytes in a thousand less than esbuild alone, in every visitor's way.
  const { code } = await minify(result.outputFiles[0].text, {
    module: format === 'esm',
    toplevel: true,
    compress: { passes: 3, ecma: 2022, keep_fargs: false, unsafe_arrows: true, hoist_funs: true, unsafe_methods: format === 'iife' },
    mangle: { properties: { regex: inner, keep_quoted: true } },
    nameCache,
    ecma: 2022,
  });
  // What a part calls its own variables is no other part's business; properties are.
  delete nameCache.vars;
  return Buffer.from(code);
}

/** Parts are named by their content, so that browsers may keep them for ever. */
async function buildNamedPart(name, entry, define = {}) {
  const contents = await buildPart(entry, 'esm', define);
  const file = `${name}-${createHash('sha256').update(contents).digest('base64url').slice(0, 9)}.js`;
  writeFileSync(page + file, contents);
  return { contents, path: JSON.stringify(`parts/${file}`) };
}

const show = await buildNamedPart('show', 'show/show.ts');
const chat = await buildNamedPart('chat', 'chat/chat.ts');
const extras = await buildNamedPart('extras', 'show/extras.ts');
const place = await buildNamedPart('place', 'show/place.ts');
const watch = await buildNamedPart('watch', 'decide/watch.ts');
const decide = await buildNamedPart('decide', 'decide/decide.ts', {
  __SHOW_PART__: show.path,
  __CHAT_PART__: chat.path,
  __WATCH_PART__: watch.path,
  __EXTRAS_PART__: extras.path,
  __PLACE_PART__: place.path,
});
const main = await buildPart('main.ts', 'iife', { __DECIDE_PART__: decide.path });
writeFileSync(`${page}page.js`, main);
const trying = await buildPart('tryout/main.ts', 'esm', { __DECIDE_PART__: decide.path }, [tryingInstead]);
writeFileSync(`${page}try.js`, trying);

const sizes = Object.entries({
  page: main,
  decide: decide.contents,
  show: show.contents,
  chat: chat.contents,
  watch: watch.contents,
  extras: extras.contents,
  place: place.contents,
  try: trying,
}).map(([part, contents]) => [part, { plain: contents.length, brotli: brotliCompressSync(contents).length }]);
writeFileSync(`${page}sizes.json`, JSON.stringify(Object.fromEntries(sizes), null, 2));
for (const [part, { plain, brotli }] of sizes) console.log(`  page script, ${part}: ${plain} bytes, ${brotli} with brotli`);

await build({
  ...shared,
  minify: false,
  entryPoints: {
    collector: `${root}src/server/collector/main.ts`,
    analysis: `${root}src/server/analysis/main.ts`,
    analysisThread: `${root}src/server/analysis/analysisThread.ts`,
    worker: `${root}src/server/jobs/main.ts`,
    studio: `${root}src/server/studio/main.ts`,
    bounded: `${root}src/server/bounded/main.ts`,
    standins: `${root}standins/main.ts`,
    site: `${root}demo/site/main.ts`,
    cli: `${root}src/cli/main.ts`,
    seed: `${root}demo/main.ts`,
    visitors: `${root}demo/simulator/main.ts`,
    share: `${root}demo/simulator/shareThread.ts`,
    bench: `${root}bench/main.ts`,
    faults: `${root}bench/faults/main.ts`,
  },
  outdir: `${root}dist/server`,
  outExtension: { '.js': '.mjs' },
  platform: 'node',
  format: 'esm',
  packages: 'external',
  splitting: true,
  sourcemap: true,
});
