import type { Brand } from '../brand/brand';
import { branded, missingValues } from '../brand/brand';
import { contrastOf, nearestPassing } from '../brand/contrast';
import { allBlocks } from '../messages/block';
import type { Message } from '../messages/message';
import type { Flow } from './flow';

/** What is wrong with how a message looks or reads, beside what is wrong with where it leads. */
export type LookFinding = { readonly message: string } & (
  | { readonly code: 'look.pale'; readonly colour: string; readonly ratio: number; readonly better: string }
  | { readonly code: 'look.noDescription'; readonly path: readonly (string | number)[] }
  | { readonly code: 'look.missingValue'; readonly value: string }
  | { readonly code: 'look.asksForKnown'; readonly field: string }
);

/** What a mark needs against what it stands on (WCAG 2.2, 1.4.11). */
export const MARK_RATIO = 3;
/** What messages stand on. */
export const GROUND = '#ffffff';

/** Colours that cannot be told from the ground, pictures that say nothing to who does not see them, values that are not there, and a question whose answer the rule takes for known. `knowsEmail`: only people with an email are shown it. */
export function checkLooks({ messages }: Flow, brand: Brand, { knowsEmail }: { readonly knowsEmail: boolean }): LookFinding[] {
  return messages.flatMap((message): LookFinding[] => {
    const { colour } = branded(message, brand);
    const ratio = colour === undefined ? Infinity : contrastOf(colour, GROUND);
    const blocks = 'blocks' in message ? allBlocks(message.blocks) : [];
    return [
      ...(colour !== undefined && ratio < MARK_RATIO
        ? [{ code: 'look.pale' as const, message: message.id, colour, ratio, better: nearestPassing(colour, GROUND, MARK_RATIO) }]
        : []),
      ...('blocks' in message && !hasWords(message)
        ? message.blocks.flatMap((block, index) =>
            block.kind === 'picture' && block.alt.trim() === ''
              ? [{ code: 'look.noDescription' as const, message: message.id, path: ['blocks', index] }]
              : [],
          )
        : []),
      ...missingValues(message, brand).map((value) => ({ code: 'look.missingValue' as const, message: message.id, value })),
      ...blocks.flatMap((block) =>
        knowsEmail && block.kind === 'form'
          ? block.fields.flatMap((field) =>
              field.kind === 'email' && field.required
                ? [{ code: 'look.asksForKnown' as const, message: message.id, field: field.label }]
                : [],
            )
          : [],
      ),
    ];
  });
}

/** Whether anything but pictures says what the message is. */
const hasWords = (message: Extract<Message, { blocks: unknown }>): boolean =>
  Boolean(message.label) || allBlocks(message.blocks).some(({ kind }) => kind !== 'picture' && kind !== 'spacer' && kind !== 'columns');
