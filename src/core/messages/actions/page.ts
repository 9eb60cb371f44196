import { z } from 'zod';
import type { ActionKind } from '../actionKind';
import { addressSchema } from '../bounds';

const pageSchema = () => z.strictObject({ kind: z.literal('page'), url: addressSchema(), newTab: z.boolean().optional() });
export type PageAction = z.infer<ReturnType<typeof pageSchema>>;

export const pageAction: ActionKind<PageAction> = {
  kind: 'page',
  schema: pageSchema,
  label: 'Go to a page',
  make: () => ({ kind: 'page', url: '/' }),
  words: ({ url, newTab }) => `leads to ${url}${newTab ? ' in a new tab' : ''}`,
  ending: 'stays',
  example: (fc) => fc.constantFrom('/', 'https://other.example/').map((url) => ({ kind: 'page' as const, url })),
};
