import { LRUCache } from 'lru-cache';
import { z } from 'zod';
import type { Location, Weather } from '@/core/history/visitor';
import { WEATHERS } from '@/core/history/visitor';
import type { Locate } from '../location/locate';
import type { Asked } from './ask';
import { ask } from './ask';

export type AskWeather = (place: { lat: number; lon: number }, at: number) => Promise<Weather | undefined>;
export type AskedService = 'location' | 'weather';
export type NoteAsked = (service: AskedService, asked: Asked) => void;

const KEPT = 20_000;
const LOCATION_KEPT_MS = 3_600_000;
const WEATHER_KEPT_MS = 1_800_000;
/** Nothing known is asked again soon, but not at every page view. */
const UNKNOWN_KEPT_MS = 30_000;
/** A visitor’s first page waits for it. */
const PATIENCE_MS = 400;

const locationSchema = z.object({
  country: z.string().regex(/^[A-Z]{2}$/),
  region: z.string().optional(),
  city: z.string().optional(),
  lat: z.number().min(-90).max(90).optional(),
  lon: z.number().min(-180).max(180).optional(),
  accuracy: z.number().min(0).optional(),
});
const weatherSchema = z.object({ is: z.enum(WEATHERS).optional(), celsius: z.number().optional() });

/** Remembers answers for a while, and unknown ones briefly; one question at a time for the same key. */
function keeping<T extends object>(ms: number, load: (key: string) => Promise<T | undefined>): (key: string) => Promise<T | undefined> {
  const kept = new LRUCache<string, { answer: T | undefined }>({ max: KEPT });
  const asked = new Map<string, Promise<T | undefined>>();
  return (key) => {
    const known = kept.get(key);
    if (known) return Promise.resolve(known.answer);
    const running = asked.get(key);
    if (running) return running;
    const question = load(key).then((answer) => {
      kept.set(key, { answer }, { ttl: answer ? ms : UNKNOWN_KEPT_MS });
      asked.delete(key);
      return answer;
    });
    asked.set(key, question);
    return question;
  };
}

interface ServiceOptions {
  readonly timeoutMs?: number;
  /** The operator's own service may be anywhere; one that a site names only where the site says so. */
  readonly allowPrivate?: boolean;
}

/** Asks a location service, and the shipped table where it does not know. The address is kept in memory as long as the answer, and nowhere else. */
export function locateBy(
  base: string,
  table: Locate,
  note: NoteAsked,
  { timeoutMs = PATIENCE_MS, allowPrivate = true }: ServiceOptions = {},
): Locate {
  const known = keeping<Location>(LOCATION_KEPT_MS, async (address) => {
    const url = new URL('location', base);
    url.searchParams.set('address', address);
    return ask(url, locationSchema, { timeoutMs, allowPrivate, onAsked: (asked) => note('location', asked) });
  });
  return async (address) => (await known(address)) ?? table(address);
}

/** Asks a weather service for a place, to a tenth of a degree, and a day. */
export function weatherBy(
  base: string,
  note: NoteAsked,
  { timeoutMs = PATIENCE_MS, allowPrivate = true }: ServiceOptions = {},
): AskWeather {
  const known = keeping<Weather>(WEATHER_KEPT_MS, async (key) => {
    const [lat = '', lon = '', day = ''] = key.split(' ');
    const url = new URL('weather', base);
    for (const [name, value] of Object.entries({ lat, lon, day })) url.searchParams.set(name, value);
    return ask(url, weatherSchema, { timeoutMs, allowPrivate, onAsked: (asked) => note('weather', asked) });
  });
  return ({ lat, lon }, at) => known(`${lat.toFixed(1)} ${lon.toFixed(1)} ${new Date(at).toISOString().slice(0, 10)}`);
}
