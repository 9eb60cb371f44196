import { createReadStream, existsSync } from 'node:fs';
import { createInterface } from 'node:readline';
import { issueWords, parseJsonWith } from '@/core/parsing/parse';
import { eachChunk, withTimelines } from '@/server/db/visitors';
import { importVisitor } from '@/server/exchange/importVisits';
import { visitorLine, visitorLineSchema } from '@/server/exchange/visitorLine';
import { readOptions, required, Usage, wholeNumber } from './options';
import { withSite } from './site';
import { DAY_MS } from '@/core/time/day';
const SHOWN_ERRORS = 10;

/** `export visits --site KEY [--days N]`: one visitor a line. */
export async function exportCommand([what, ...words]: readonly string[], print: (line: string) => void): Promise<void> {
  if (what !== 'visits') throw new Usage(`export: met ${what ?? 'nothing'}, expected visits`);
  const { option } = readOptions(words, { values: ['--site', '--days'] });
  const days = wholeNumber('--days', option('--days'), { least: 1, most: 36_500, otherwise: 36_500 });
  await withSite(option('--site'), async (pool, site) => {
    const since = Math.max(0, Date.now() - days * DAY_MS);
    for await (const chunk of eachChunk(pool, site.id, { since, size: 500 })) {
      const recorded = await withTimelines(pool, site.id, chunk, since);
      recorded.forEach((visitor, index) => {
        const line = visitorLine(visitor, chunk[index]?.browser ?? '');
        if (line.visits.length) print(JSON.stringify(line));
      });
    }
  });
}

/** `import visits FILE --site KEY`: what `export visits` writes. Lines that are wrong are told and left out. */
export async function importCommand([what, ...words]: readonly string[]): Promise<void> {
  if (what !== 'visits') throw new Usage(`import: met ${what ?? 'nothing'}, expected visits or log`);
  const { option, rest } = readOptions(words, { values: ['--site'] });
  const file = required('the file', rest[0]);
  if (!existsSync(file)) throw new Usage(`${file} is not there`);
  await withSite(option('--site'), async (pool, site) => {
    let [taken, wrong, number] = [0, 0, 0];
    for await (const line of createInterface({ input: createReadStream(file), crlfDelay: Infinity })) {
      number++;
      if (line.trim() === '') continue;
      const parsed = parseJsonWith(visitorLineSchema, line);
      if (!parsed.ok) {
        if (++wrong <= SHOWN_ERRORS) console.error(`  line ${number}: ${parsed.issues.slice(0, 3).map(issueWords).join('; ')}`);
        continue;
      }
      await importVisitor(pool, site.id, parsed.value);
      if (++taken % 1000 === 0) console.error(`  ${taken} visitors`);
    }
    console.error(`  ${taken} visitors taken, ${wrong} lines left out`);
    if (wrong) process.exitCode = 1;
  });
}
