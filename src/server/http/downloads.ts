import { Readable } from 'node:stream';
import { stringify } from 'csv-stringify';

/** A table as CSV (RFC 4180), sent as its rows are made. */
export function csvResponse(filename: string, columns: readonly string[], rows: AsyncIterable<readonly string[]>): Response {
  const csv = stringify({ header: true, columns: [...columns], record_delimiter: 'windows' });
  const sent = Readable.from(rows);
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
