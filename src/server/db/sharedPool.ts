import type pg from 'pg';
import { createPool } from './pool';

// Next loads modules anew in several bundles and, in development, on every change: the pool lives on the process.
const shared = globalThis as typeof globalThis & { crindlePool?: pg.Pool };

export const pool = (): pg.Pool => (shared.crindlePool ??= createPool());
