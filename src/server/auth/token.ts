import { createHash } from 'node:crypto';

/** What is kept of a token: a copy of the table lets nobody in. */
export const tokenHash = (token: string): Buffer => createHash('sha256').update(token).digest();
