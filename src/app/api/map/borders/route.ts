import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { download } from '@/server/http/api';

let borders: Promise<string> | undefined;

/** The shipped borders of the Earth's countries as TopoJSON: the same for everybody. */
export async function GET(request: Request) {
  return download(request, async () => {
    borders ??= readFile(join(process.cwd(), 'node_modules', 'world-atlas', 'countries-50m.json'), 'utf8');
    return new Response(await borders, {
      headers: { 'content-type': 'application/json; charset=utf-8', 'cache-control': 'private, max-age=604800' },
    });
  });
}
