import { createReadStream, statSync } from 'node:fs';
import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream';
import { createGunzip } from 'node:zlib';
import { SingleBar } from 'cli-progress';
import type { LogReport } from '@/server/exchange/importLog';
import { importLog } from '@/server/exchange/importLog';
import { openLocations } from '@/server/location/locate';
import { existingFile } from './files';
import { readOptions, Usage } from './options';
import { withSite } from './site';

const SHOWN_ERRORS = 10;

/** `import log FILE --site KEY [--origin URL]`: an access log in Combined Log Format, compressed with gzip or not. */
export async function importLogCommand(words: readonly string[]): Promise<LogReport> {
  const { option, rest } = readOptions(words, { values: ['--site', '--origin'] });
  const file = existingFile('the file', rest[0]);
  return withSite(option('--site'), async (pool, site) => {
    const origin = originOf(option('--origin') ?? `https://${site.addresses[0] ?? ''}`);
    const bar = new SingleBar({ format: '  {what} {bar} {percentage} %', noTTYOutput: false, stream: process.stderr });
    const bytes = createReadStream(file);
    bar.start(statSync(file).size, 0, { what: 'reading' });
    const text = file.endsWith('.gz') ? pipeline(bytes, createGunzip(), () => undefined) : bytes;
    const wrongLines: string[] = [];
    try {
      const report = await importLog(
        pool,
        site,
        linesOf(text, file, () => bar.update(bytes.bytesRead)),
        {
          origin,
          locate: await openLocations(process.env['CRINDLE_CITY_MMDB']),
          onWrong: (line, wrong) => wrongLines.length < SHOWN_ERRORS && void wrongLines.push(`  line ${line}: ${wrong}`),
          onVisitors: (done, of) => {
            if (done === 1) bar.start(of, 0, { what: 'writing' });
            bar.update(done);
          },
        },
      );
      bar.stop();
      for (const line of wrongLines) console.error(line);
      if (report.wrong > wrongLines.length) console.error(`  and ${report.wrong - wrongLines.length} more lines that are wrong`);
      if (report.wrong > 0 && report.wrong === report.lines)
        throw new Error(`${file}: none of its ${report.lines} lines is one of an access log`);
      return report;
    } finally {
      bar.stop();
    }
  });
}

/** Lines of a text that comes in pieces; one that breaks off is an error, and nothing of it is written. */
async function* linesOf(text: Readable, file: string, onChunk: () => void): AsyncGenerator<string> {
  let rest = '';
  try {
    text.setEncoding('utf8');
    for await (const chunk of text) {
      onChunk();
      const lines = (rest + String(chunk)).split(/\r?\n/);
      rest = lines.pop() ?? '';
      yield* lines;
    }
  } catch (cause) {
    throw new Usage(`${file}: met ${(cause as Error).message}, expected a whole ${file.endsWith('.gz') ? 'gzip ' : ''}file`);
  }
  if (rest) yield rest;
}

function originOf(text: string): string {
  if (!URL.canParse(text) || !/^https?:/.test(text)) throw new Usage(`--origin: met ${text}, expected such as https://shop.example`);
  return new URL(text).origin;
}
