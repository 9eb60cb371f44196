import { z } from 'zod';

/** The schema of anything of which a table has the kind, by the table's schemas; what is of no kind is refused with the kinds there are. */
export const unionOfKinds = <T>(kinds: { readonly [kind: string]: { readonly schema: () => z.ZodType } }): z.ZodType<T> =>
  z.discriminatedUnion(
    'kind',
    Object.values(kinds).map(({ schema }) => schema()) as unknown as [z.ZodObject, ...z.ZodObject[]],
  ) as unknown as z.ZodType<T>;
