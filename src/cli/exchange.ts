import { createReadStream } from 'node:fs';
import { createInterface } from 'node:readline';
import { issueWords, parseJsonWith } from '@/core/parsing/parse';
import { siteDocumentSchema } from '@/core/exchange/siteDocument';
import { withTransaction } from '@/server/db/pool';
import { eachChunk, withTimelines } from '@/server/db/visitors';
import { exportSite, importSite, NotBroughtIn } from '@/server/exchange/site';
import { PictureRefused } from '@/server/pictures/refused';
import { importVisitor } from '@/server/exchange/importVisits';
import { visitorLine, visitorLineSchema } from '@/server/exchange/visitorLine';
import type { ServerEvent } from '@/core/wire/serverEvents';
import { serverEventSchema } from '@/core/wire/serverEvents';
import { storable } from '@/server/collector/storable';
import { findServedRelease } from '@/server/db/releases';
import { importEvent } from '@/server/exchange/importEvents';
import { existingFile, textOf } from './files';
import { readOptions, Usage, wholeNumber } from './options';
import { withSite } from './site';
import { DAY_MS } from '@/core/time/day';
const SHOWN_ERRORS = 10;

/** `export site --site KEY`: everything that people wrote for it, as one JSON document. */
async function exportSiteCommand(words: readonly string[], print: (line: string) => void): Promise<void> {
  const { option } = readOptions(words, { values: ['--site'] });
  await withSite(option('--site'), async (pool, site) => print(JSON.stringify(await exportSite(pool, site), null, 2)));
}

/** `import site FILE --site KEY`: what `export site` writes, all or nothing. */
async function importSiteCommand(words: readonly string[]): Promise<void> {
  const { option, rest } = readOptions(words, { values: ['--site'] });
  const file = existingFile('the file', rest[0]);
  const parsed = parseJsonWith(siteDocumentSchema, textOf('the file', file));
  if (!parsed.ok) throw new Usage(`${file}: ${parsed.issues.slice(0, 5).map(issueWords).join('; ')}`);
  await withSite(option('--site'), async (pool, site) => {
    try {
      const { came } = await withTransaction(pool, (tx) => importSite(tx, site, parsed.value));
      console.error(
        `  ${Object.entries(came)
          .map(([what, count]) => `${count} ${what}`)
          .join(', ')} brought in`,
      );
    } catch (cause) {
      if (cause instanceof NotBroughtIn || cause instanceof PictureRefused) throw new Usage(`${file}: ${cause.message}`);
      throw cause;
    }
  });
}

/** `export visits --site KEY [--days N]`: one visitor a line. */
export async function exportCommand([what, ...words]: readonly string[], print: (line: string) => void): Promise<void> {
  if (what === 'site') return exportSiteCommand(words, print);
  if (what !== 'visits') throw new Usage(`export: met ${what ?? 'nothing'}, expected visits or site`);
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

/** `import events FILE --site KEY`: JSON lines as the collector takes them from a site's own server. Lines that are wrong are told and left out. */
async function importEventsCommand(words: readonly string[]): Promise<void> {
  const { option, rest } = readOptions(words, { values: ['--site'] });
  const file = existingFile('the file', rest[0]);
  await withSite(option('--site'), async (pool, site) => {
    const release = (await findServedRelease(pool, site.id))?.published;
    let [isNew, again, wrong, number] = [0, 0, 0, 0];
    const refuse = (why: string): void => {
      if (++wrong <= SHOWN_ERRORS) console.error(`  line ${number}: ${why}`);
    };
    for await (const line of createInterface({ input: createReadStream(file), crlfDelay: Infinity })) {
      number++;
      if (line.trim() === '') continue;
      const parsed = parseJsonWith(serverEventSchema, line);
      if (!parsed.ok) {
        refuse(parsed.issues.slice(0, 3).map(issueWords).join('; '));
        continue;
      }
      const event = storable(parsed.value, line) as ServerEvent;
      const answer = await withTransaction(pool, (tx) => importEvent(tx, site.id, event, { release, now: Date.now() }));
      if (!answer.ok) refuse(answer.message);
      else if (answer.isNew) isNew++;
      else again++;
    }
    console.error(`  ${isNew} events brought in, ${again} were there already, ${wrong} left out`);
    if (wrong > 0) process.exitCode = 1;
  });
}

/** `import visits FILE --site KEY`: what `export visits` writes. Lines that are wrong are told and left out. */
export async function importCommand([what, ...words]: readonly string[]): Promise<void> {
  if (what === 'site') return importSiteCommand(words);
  if (what === 'events') return importEventsCommand(words);
  if (what !== 'visits') throw new Usage(`import: met ${what ?? 'nothing'}, expected visits, events, site or log`);
  const { option, rest } = readOptions(words, { values: ['--site'] });
  const file = existingFile('the file', rest[0]);
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
