import { z } from 'zod';
import type { Fact } from './fact';

/** The cookies that scripts of the page can read; undefined where the cookie store is closed, as in a sandboxed frame. */
export const cookiesFact: Fact<Readonly<Record<string, string>>, 'page'> = {
  from: 'page',
  schema: () => z.record(z.string(), z.string()),
  columns: [],
  value: () => undefined,
  example: (fc) => fc.record({ seen: fc.constantFrom('yes', 'no') }, { requiredKeys: [] }),
};
