import type pg from 'pg';
import { createPool, createReadSide } from './pool';
import type { ReadSide } from './readSide';

// Next loads modules anew in several bundles and, in development, on every change: the pool lives on the process.
const shared = globalThis as typeof globalThis & { crindlePool?: pg.Pool; crindleReading?: ReadSide };

export const pool = (): pg.Pool => (shared.crindlePool ??= createPool());

/** Where lists are read that may be some seconds old. */
export const reading = (): ReadSide => (shared.crindleReading ??= createReadSide(pool()));
