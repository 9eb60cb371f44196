import type pg from 'pg';
import type { Database } from './directory';
import { copyMembers, Directory } from './directory';
import { createPool, createReadSide, nodePool } from './pool';
import { ReadSide } from './readSide';

// Next loads modules anew in several bundles and, in development, on every change: the pools live on the process.
const shared = globalThis as typeof globalThis & { crindlePool?: pg.Pool; crindleReading?: ReadSide; crindleDirectory?: Directory };

/** The home server, which has people, their sessions and the directory of sites. */
export const pool = (): pg.Pool => (shared.crindlePool ??= createPool());

const directory = (): Directory => (shared.crindleDirectory ??= new Directory(pool(), (url) => nodePool(url)));

/** The server that has the site. */
export const poolOf = (siteId: number): Database => directory().of(siteId);

/** The server that has the site hears who is of it now: rows there name them. */
export async function tellMembers(siteId: number): Promise<void> {
  const { pool: own } = await directory().find(siteId);
  if (own !== pool()) await copyMembers(pool(), { siteId, to: own });
}

/** Where lists of a site are read that may be some seconds old. */
export async function readingOf(siteId: number): Promise<ReadSide> {
  const { name, pool: own } = await directory().find(siteId);
  return name === undefined ? (shared.crindleReading ??= createReadSide(pool())) : new ReadSide(own);
}
