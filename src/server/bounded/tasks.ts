import type { Interval } from '@/core/conversations/calendar';
import { busyIn, NoCalendar } from '@/core/conversations/calendar';
import { fromGeoJson } from '@/core/geo/geojson';
import { encodePicture } from '../pictures/encode';
import { PictureRefused } from '../pictures/refused';

/** What came of it, or why what was brought is not taken. */
export type Outcome<T> = { readonly done: T } | { readonly refused: { readonly code: string; readonly message: string } };

async function told<T>(work: () => T | Promise<T>): Promise<Outcome<T>> {
  try {
    return { done: await work() };
  } catch (cause) {
    if (cause instanceof NoCalendar || cause instanceof PictureRefused) return { refused: { code: cause.code, message: cause.message } };
    throw cause;
  }
}

/** What is done to files that strangers bring: each may take long, or all memory, by what stands in the file. */
export const TASKS = {
  busyIn: (text: string, span: Parameters<typeof busyIn>[1]) => told((): Interval[] => busyIn(text, span)),
  placesIn: (document: unknown) => told(() => fromGeoJson(document)),
  encodePicture: (bytes: Uint8Array, how: Parameters<typeof encodePicture>[1]) => told(() => encodePicture(Buffer.from(bytes), how)),
};
