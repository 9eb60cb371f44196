import { exchange } from './http';
import type { Exchanged, Given, Kind } from './kind';

/** Asks for something that every such service has to answer, or not to know. */
async function sample(
  what: 'weather' | 'location',
  query: Readonly<Record<string, string>>,
  given: Given<'weather' | 'location'>,
): Promise<Exchanged> {
  const { url: base, allowPrivate = false } = given.settings;
  const url = new URL(what, base);
  for (const [name, value] of Object.entries(query)) url.searchParams.set(name, value);
  const exchanged = await exchange(
    { url: String(url), method: 'GET', headers: { accept: 'application/json' }, allowPrivate },
    given.now,
    isObject,
  );
  return exchanged.status === 404 ? { verdict: { is: 'sent' }, status: 404, note: 'knows nothing of the sample' } : exchanged;
}

function isObject(body: string): boolean {
  try {
    const value: unknown = JSON.parse(body);
    return typeof value === 'object' && value !== null;
  } catch {
    return false;
  }
}

const day = (now: number): string => new Date(now).toISOString().slice(0, 10);

export const weatherKind: Kind<'weather'> = {
  check: (given) => sample('weather', { lat: '47.3', lon: '11.4', day: day(given.now) }, given),
};
export const locationKind: Kind<'location'> = {
  check: (given) => sample('location', { address: '203.0.113.1' }, given),
};
