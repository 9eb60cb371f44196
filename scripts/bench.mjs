// Prints what was measured on this machine in this run. `./crindle bench sizes`
import { readFileSync } from 'node:fs';

const sizes = JSON.parse(readFileSync(new URL('../dist/page/sizes.json', import.meta.url), 'utf8'));
console.log('Sizes of the page script, in bytes');
for (const [part, { plain, brotli }] of Object.entries(sizes))
  console.log(`  ${part.padEnd(8)} ${String(plain).padStart(6)} plain ${String(brotli).padStart(6)} brotli`);
