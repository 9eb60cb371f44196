import type { ToLog } from './changeLog';
import { noteChange } from './changeLog';
import type { Member } from './members';
import { withTransaction } from './pool';
import type { Queryable } from './queryable';
import { poolOf } from './sharedPool';

/**
 * What somebody changes of their site, with its lines in the log: all of it is there or none of it, so that an answer that says that nothing was
 * changed is true. Whoever listens to the site hears of it as it is committed. `db` is the transaction; a request's body is read before.
 */
export const changing = <T>(
  { siteId, ...by }: Member,
  work: (db: Queryable, note: (change: ToLog) => Promise<void>) => Promise<T>,
): Promise<T> => withTransaction(poolOf(siteId), (db) => work(db, (change) => noteChange(db, siteId, by, change)));
