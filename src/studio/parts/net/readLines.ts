import type { Refusal } from '@/server/api/serve';

/** Reads an answer of one JSON text a line as it grows; a refusal is thrown with its words. Without a body it is a GET. */
export async function readLines<T>(
  url: string,
  body: unknown,
  { signal, onLine }: { signal: AbortSignal; onLine: (value: T) => void },
): Promise<void> {
  const response = await fetch(url, {
    signal,
    ...(body === undefined ? {} : { method: 'POST', body: JSON.stringify(body), headers: { 'content-type': 'application/json' } }),
  });
  const reader = response.body?.pipeThrough(new TextDecoderStream()).getReader();
  const take = (line: string): void => {
    if (line === '') return;
    const value = JSON.parse(line) as T | Refusal;
    if (typeof value === 'object' && value !== null && 'error' in value) throw new RefusedLine(value.error.message);
    onLine(value);
  };
  let rest = '';
  for (let chunk = await reader?.read(); chunk && !chunk.done; chunk = await reader?.read()) {
    const lines = (rest + chunk.value).split('\n');
    rest = lines.pop() ?? '';
    lines.forEach(take);
  }
  take(rest);
}

/** The server's own words for why not. */
export class RefusedLine extends Error {}
