import { z } from 'zod';
import type { BlockKind } from '../blockKind';
import { addressSchema, wordsUpTo } from '../bounds';

const yes = () => z.literal(true).optional();
/** Letters that look the same and lead to the same. */
const runSchema = () => z.strictObject({ text: wordsUpTo(2000), bold: yes(), italic: yes(), link: addressSchema().optional() });
export type Run = z.infer<ReturnType<typeof runSchema>>;

const partSchema = () =>
  z.strictObject({
    as: z.enum(['paragraphs', 'bullets', 'numbers']),
    lines: z.array(z.array(runSchema()).max(60)).min(1).max(60),
  });
export type RichPart = z.infer<ReturnType<typeof partSchema>>;

const richSchema = () => z.strictObject({ kind: z.literal('rich'), parts: z.array(partSchema()).max(20) });
export type RichBlock = z.infer<ReturnType<typeof richSchema>>;

/** Text of which some is bold, slanted, a link or a list. Plain text is a block that every message can draw. */
export const richBlock: BlockKind<RichBlock, 'extras'> = {
  kind: 'rich',
  schema: richSchema,
  label: 'Formatted text',
  make: () => ({ kind: 'rich', parts: [{ as: 'paragraphs', lines: [[]] }] }),
  drawnBy: 'extras',
  rank: 2,
  actions: () => [],
  example: (fc) =>
    fc
      .array(
        fc.record({
          as: fc.constantFrom('paragraphs' as const, 'bullets' as const, 'numbers' as const),
          lines: fc.array(
            fc.array(
              fc.record(
                {
                  text: fc.string({ minLength: 1, maxLength: 12 }),
                  bold: fc.constant(true as const),
                  italic: fc.constant(true as const),
                  link: fc.constantFrom('/huts', 'https://tarnhollow.example/'),
                },
                { requiredKeys: ['text'] },
              ),
              { maxLength: 4 },
            ),
            { minLength: 1, maxLength: 3 },
          ),
        }),
        { maxLength: 3 },
      )
      .map((parts) => ({ kind: 'rich' as const, parts })),
};
