import { ENDPOINTS } from '@/server/api/table';
import { writeFileSync } from 'node:fs';
import { jsonSchemas } from '@/core/formats/jsonSchema';
import { resetLink } from '@/server/auth/reset';
import { findPassword } from '@/server/db/members';
import { createPool } from '@/server/db/pool';
import { firstLink } from '@/server/sites/make';
import { collectorDocument } from '@/server/openapi/collector';
import { openApiDocument } from '@/server/openapi/document';
import { countCommand } from './count';
import { describeFile, lintFile } from './documents';
import { evaluateFolder } from './evaluate';
import { exportCommand, importCommand } from './exchange';
import { importLogCommand } from './importLogFile';
import { nodesCommand } from './nodes';
import { endWith, readOptions, required, Usage } from './options';
import { rehearseCommand } from './rehearse';
import { resultsCommand } from './results';

const [command, ...words] = process.argv.slice(2);
const print = (line: string): void => void process.stdout.write(`${line}\n`);
const printJson = (value: unknown): void => print(JSON.stringify(value));

async function run(): Promise<void> {
  switch (command) {
    case 'link':
      return sayLink();
    case 'reset':
      return sayReset(required('the email', readOptions(words, { values: [] }).rest[0]));
    case 'evaluate':
      return evaluateFolder(required('the folder', readOptions(words, { values: [] }).rest[0]), print);
    case 'lint':
      return printJson(lintFile(required('the file', readOptions(words, { values: [] }).rest[0]), Date.now()));
    case 'describe':
      return printJson(describeFile(required('the file', readOptions(words, { values: [] }).rest[0])));
    case 'formats':
      return writeFormats();
    case 'count':
      return printJson(await countCommand(words));
    case 'rehearse':
      return printJson(await rehearseCommand(words));
    case 'results':
      return printJson(await resultsCommand(words));
    case 'nodes':
      return nodesCommand(words, print);
    case 'export':
      return exportCommand(words, print);
    case 'import':
      return words[0] === 'log' ? printJson(await importLogCommand(words.slice(1))) : importCommand(words);
    case undefined:
    default:
      throw new Usage(`There is no command ${command ?? ''}; see ./crindle help`);
  }
}

/** Writes the published formats anew. */
function writeFormats(): void {
  for (const [name, schema] of Object.entries(jsonSchemas()))
    writeFileSync(new URL(`../../docs/formats/${name}`, import.meta.url), `${JSON.stringify(schema, null, 2)}\n`);
  writeFileSync(new URL('../../docs/openapi.json', import.meta.url), `${JSON.stringify(openApiDocument(ENDPOINTS))}\n`);
  writeFileSync(new URL('../../docs/openapi-collector.json', import.meta.url), `${JSON.stringify(collectorDocument())}\n`);
}

/** The link to the first account; nothing where somebody has one. */
async function sayLink(): Promise<void> {
  const pool = createPool();
  const link = await firstLink(pool);
  await pool.end();
  if (link) print(link);
  else console.error('Somebody has an account here already: sign in, or ./crindle reset EMAIL makes a link to a new password.');
}

/** For whoever cannot be mailed: whoever has this terminal has the database. */
async function sayReset(email: string): Promise<void> {
  const pool = createPool();
  const found = await findPassword(pool, email);
  const link = found && (await resetLink(pool, found.id));
  await pool.end();
  if (!link) throw new Usage(`Nobody here has the email "${email}"`);
  print(link);
}

endWith(run());
