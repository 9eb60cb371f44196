import { Readable } from 'node:stream';
import { stringify } from 'csv-stringify';

/** A spreadsheet would run what begins like a formula, in a heading or after an end of line, too; visitors type these texts. */
export const harmless = (text: string): string => text.replace(/^(?=[\t\r])|(^|[\r\n])(?=[^\S\r\n]*[=+\-@])/g, "$1'");

/** RFC 4180; a line feed by itself ends a row for some, and is quoted too. */
export const CSV = { header: true, record_delimiter: 'windows', quoted_match: /[\r\n]/ } as const;

/** A table as CSV (RFC 4180), sent as its rows are made; nothing in it is run by a spreadsheet. */
export function csvResponse(filename: string, columns: readonly string[], rows: AsyncIterable<readonly string[]>): Response {
  const csv = stringify({ ...CSV, columns: columns.map(harmless) });
  const cells = async function* (): AsyncGenerator<string[]> {
    for await (const row of rows) yield row.map(harmless);
  };
  const sent = Readable.from(cells());
  sent.on('error', (error) => csv.destroy(error));
  return download(filename, 'text/csv', Readable.toWeb(sent.pipe(csv)) as ReadableStream);
}

/** A file to be kept rather than shown. */
export const download = (filename: string, type: string, body: BodyInit): Response =>
  new Response(body, {
    headers: {
      'content-type': `${type}; charset=utf-8`,
      'content-disposition': `attachment; filename="${filename}"`,
      'cache-control': 'no-store',
    },
  });
