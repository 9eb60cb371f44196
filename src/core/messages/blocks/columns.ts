import { z } from 'zod';
import type { BlockKind } from '../blockKind';
import { simpleBlockSchema } from '../simpleBlock';

const columnsSchema = () =>
  z.strictObject({
    kind: z.literal('columns'),
    start: z.array(simpleBlockSchema()).max(15),
    end: z.array(simpleBlockSchema()).max(15),
  });
export type ColumnsBlock = z.infer<ReturnType<typeof columnsSchema>>;

export const columnsBlock: BlockKind<ColumnsBlock, 'show'> = {
  kind: 'columns',
  schema: columnsSchema,
  label: 'Two columns',
  make: () => ({ kind: 'columns', start: [{ kind: 'text', text: '' }], end: [{ kind: 'text', text: '' }] }),
  drawnBy: 'show',
  rank: 5,
  actions: () => [],
  inside: ({ start, end }) => [...start, ...end],
  example: (fc) => fc.constant(columnsBlock.make()),
};
