import { z } from 'zod';

export const textUpTo = (most: number) => z.string().max(most);
export const wordsUpTo = (most: number) => z.string().min(1).max(most);

/** Http(s), or from the root of the site, so that no script can hide in an address. */
export const addressSchema = () =>
  z
    .string()
    .max(2000)
    .regex(/^(https?:\/\/|\/(?!\/))/i);
/** Of an id, in letters. */
export const MOST_ID = 60;
export const idSchema = () => z.string().regex(/^[a-z0-9][a-z0-9_-]{0,59}$/i);
