// Holds the page script to its weight: the limits are what each part may add to a page, in bytes after brotli. No visitor ever loads `try`.
import { readFileSync } from 'node:fs';

const LIMITS = { page: 6144, decide: 6144, show: 6144, chat: 6144, watch: 1024, extras: 2048, place: 1536, try: 28672 };

const sizes = JSON.parse(readFileSync(new URL('../dist/page/sizes.json', import.meta.url), 'utf8'));
let tooHeavy = 0;
for (const [part, limit] of Object.entries(LIMITS)) {
  const brotli = sizes[part]?.brotli ?? Infinity;
  console.log(`   ${part}: ${brotli} of ${limit} bytes`);
  if (brotli > limit) tooHeavy++;
}
process.exitCode = tooHeavy ? 1 : 0;
