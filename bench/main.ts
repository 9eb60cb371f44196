// Measures speed on this machine. Everything that is compared is measured in the same run; figures are medians.
import { readFileSync } from 'node:fs';
import { benchCollect } from './collect';
import { benchCount } from './count';
import { benchPage } from './page';
import { benchRehearse } from './rehearse';
import { benchResults } from './results';
import { benchRules } from './rules';
import { benchScale } from './scale';
import { benchStudio } from './studio';
import { benchTalk } from './talk';

const BENCHES = {
  sizes: printSizes,
  rules: benchRules,
  rehearse: benchRehearse,
  count: benchCount,
  collect: benchCollect,
  scale: benchScale,
  talk: benchTalk,
  studio: benchStudio,
  page: benchPage,
  results: benchResults,
} as const;

function printSizes(): void {
  const sizes = JSON.parse(readFileSync(new URL('../page/sizes.json', import.meta.url), 'utf8')) as Record<
    string,
    { plain: number; brotli: number }
  >;
  console.log('Page script, bytes');
  for (const [part, { plain, brotli }] of Object.entries(sizes)) console.log(`  ${part.padEnd(8)} ${plain} plain, ${brotli} with brotli`);
}

const names = process.argv
  .slice(2)
  .filter((word, nth, words) => !word.startsWith('--') && !['--visits', '--times'].includes(words[nth - 1] ?? ''));
for (const name of names.length ? names : Object.keys(BENCHES)) {
  if (!(name in BENCHES)) {
    console.error(`There is no benchmark "${name}"; there are ${Object.keys(BENCHES).join(', ')}`);
    process.exit(2);
  }
  await BENCHES[name as keyof typeof BENCHES]();
}
