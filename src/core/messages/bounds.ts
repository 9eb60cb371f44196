import { z } from 'zod';

export const textUpTo = (most: number) => z.string().max(most);
export const wordsUpTo = (most: number) => z.string().min(1).max(most);

/** Http(s), from the root of the site, or one of the site's values with such an address instead, so that no script can hide in one. */
export const addressSchema = () =>
  z
    .string()
    .max(2000)
    .regex(/^(https?:\/\/|\/(?!\/)|\{site [^{},]+(, *or +(https?:\/\/|\/(?!\/))[^{}]*)?\}$)/i);
export const hexSchema = () => z.string().regex(/^#[0-9a-f]{6}$/i);
/** In pixels. */
export const cornersSchema = () => z.int().min(0).max(32);
/** The name of a font: no sign that could end the declaration it stands in. */
export const familySchema = () => z.string().regex(/^[\p{L}\p{N}][\p{L}\p{N} _-]{0,59}$/u);
/** Of an id, in letters. */
export const MOST_ID = 60;
export const idSchema = () => z.string().regex(/^[a-z0-9][a-z0-9_-]{0,59}$/i);
