import { pipeline } from 'node:stream/promises';
import { Readable } from 'node:stream';
import type pg from 'pg';
import { from } from 'pg-copy-streams';

export type Cell = string | number | boolean | null | readonly string[] | object;

/** Rows into a table by COPY in text format: lists are arrays of texts, other objects JSON. */
export async function copyInto(
  client: pg.ClientBase,
  table: string,
  columns: readonly string[],
  rows: readonly (readonly Cell[])[],
): Promise<void> {
  if (rows.length === 0) return;
  const names = columns.map((name) => `"${name}"`).join(', ');
  const stream = client.query(from(`copy ${table} (${names}) from stdin`));
  await pipeline(Readable.from(chunksOf(rows)), stream);
}

const ROWS_AT_ONCE = 500;

function* chunksOf(rows: readonly (readonly Cell[])[]): Generator<string> {
  for (let at = 0; at < rows.length; at += ROWS_AT_ONCE)
    yield rows
      .slice(at, at + ROWS_AT_ONCE)
      .map(lineOf)
      .join('');
}

const lineOf = (row: readonly Cell[]): string => `${row.map(cellText).join('\t')}\n`;

function cellText(cell: Cell): string {
  if (cell === null) return '\\N';
  if (typeof cell === 'number' || typeof cell === 'boolean') return String(cell);
  if (Array.isArray(cell)) return escaped(`{${cell.map((one) => `"${String(one).replace(/["\\]/g, '\\$&')}"`).join(',')}}`);
  return escaped(typeof cell === 'object' ? JSON.stringify(cell) : cell);
}

const ESCAPES: Record<string, string> = { '\\': '\\\\', '\t': '\\t', '\n': '\\n', '\r': '\\r' };
const SPECIAL = /[\\\t\n\r]/g;
const escaped = (text: string): string => (text.search(SPECIAL) < 0 ? text : text.replace(SPECIAL, (met) => ESCAPES[met] ?? met));
