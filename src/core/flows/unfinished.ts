import { closest, distance } from 'fastest-levenshtein';
import type { Goal } from '../campaigns/campaign';
import { allBlocks, blockKindOf } from '../messages/block';
import type { Block, BlockOf } from '../messages/block';
import { namesIn, piecesOf } from '../messages/merge';
import { hashIn } from '../messages/pictures';
import type { Flow } from './flow';

/** What a new campaign says until somebody has written something. */
export const FIRST_TEXT = 'Say in a sentence or two what there is to gain.';

/** What is there and on record, of what a campaign speaks of. */
export interface Around {
  /** UTC ms. */
  readonly now: number;
  /** Keys of what a text can put in of visitors. */
  readonly values: readonly string[];
  /** Of pictures of the site's own library, by their hashes. */
  readonly hasPicture: (hash: string) => boolean;
}

/** So many letters may be another in what was meant. */
const MOST_LETTERS = 3;

/** What somebody has most likely not meant to leave as it is. Each goes on from the campaign's name, and says what mends it. */
export function unfinishedIn({ flow, goal }: { readonly flow: Flow; readonly goal: Goal }, around: Around): string[] {
  const blocks = flow.messages.flatMap((message) =>
    ('blocks' in message ? allBlocks(message.blocks) : []).map((block) => ({ block, where: `(message ${message.id})` })),
  );
  const asks =
    blocks.some(({ block: { kind } }) => kind === 'form' || kind === 'rating') || flow.messages.some(({ format }) => format === 'chat');
  return [
    ...(goal.kind === 'form' && !asks
      ? ['counts sent forms and has no form, so nobody can reach its goal: put one in, or choose another goal']
      : []),
    ...blocks.flatMap(({ block, where }) => {
      const words = (CHECKS as { readonly [K in Block['kind']]?: Check<never> })[block.kind]?.(block as never, around);
      return words === undefined ? [] : [words.replace('…', where)];
    }),
    ...namesIn(flow)
      .filter((name) => !name.startsWith('site_') && !around.values.includes(name))
      .map((name) => unknownValue(name, around.values)),
    ...textsIn(flow).flatMap((text) =>
      piecesOf(text).flatMap((piece) => {
        const braces = typeof piece === 'string' ? /\{[^{}]+\}/.exec(piece)?.[0] : undefined;
        return braces === undefined ? [] : [`shows ${braces} with its braces: a value is written {first name, or there}`];
      }),
    ),
  ];
}

/** What is wrong with a block; where it stands is put in for the "…". */
type Check<B extends Block> = (block: B, around: Around) => string | undefined;

const made = <B extends Block>(block: B): B => blockKindOf(block).make();

const words: Check<BlockOf<'heading'> | BlockOf<'text'>> = ({ kind, text }) => {
  if (text === FIRST_TEXT) return `still says “${FIRST_TEXT}” …: write what there is to gain`;
  return text.trim() === '' ? `has a ${kind} with nothing in it …: write it, or take it out` : undefined;
};

const CHECKS: { readonly [K in Block['kind']]?: Check<BlockOf<K>> } = {
  heading: words,
  text: words,
  countdown: ({ until }, { now }) =>
    until !== undefined && Date.parse(until) <= now
      ? 'counts down to an instant that is over …: give it another end, or take it out'
      : undefined,
  coupon: (block) =>
    block.code === made(block).code ? `offers the code “${block.code}” …, as it was put in: write the one that holds` : undefined,
  picture: (block, { hasPicture }) => {
    const hash = hashIn(block.src);
    const isGone = hash === undefined ? block.src === made(block).src : !hasPicture(hash);
    return isGone ? 'shows a picture that is not there …: choose another, or take it out' : undefined;
  },
};

function unknownValue(name: string, known: readonly string[]): string {
  const near = known.length > 0 ? closest(name, known) : undefined;
  const mend =
    near !== undefined && distance(name, near) <= MOST_LETTERS ? `did you mean {${near.replaceAll('_', ' ')}}?` : 'choose another value';
  return `puts in {${name.replaceAll('_', ' ')}}, which no visitor has, so nothing stands there: ${mend}`;
}

function textsIn(value: unknown): string[] {
  if (typeof value === 'string') return [value];
  return typeof value === 'object' && value !== null ? Object.values(value).flatMap(textsIn) : [];
}
