// Between plain text and text with formatting.
import type { RichBlock, RichPart, Run } from './blocks/rich';
import type { TextBlock } from './blocks/text';

/** What formatting can be put on a stretch of text. */
export type Format = { readonly bold: true } | { readonly italic: true } | { readonly link: string } | { readonly as: RichPart['as'] };

const runsOf = (text: string, format?: object): Run[] => (text ? [{ text, ...format }] : []);

/** A plain text with something put on the letters from `from` to `to` (all of them where the two are equal); a list takes every line. */
export function formatted({ text, ...rest }: TextBlock, format: Format, from: number, to: number): RichBlock {
  const [start, end] = from === to ? [0, text.length] : [Math.min(from, to), Math.max(from, to)];
  const isList = 'as' in format;
  let at = 0;
  const lines = text.split('\n').map((line) => {
    const [first, last] = [start - at, end - at].map((place) => Math.max(0, Math.min(line.length, place))) as [number, number];
    at += line.length + 1;
    return isList
      ? runsOf(line)
      : [...runsOf(line.slice(0, first)), ...runsOf(line.slice(first, last), format), ...runsOf(line.slice(last))];
  });
  return { ...rest, kind: 'rich', parts: [{ as: isList ? format.as : 'paragraphs', lines }] };
}

/** The plain text that this is, if nothing in it is formatted and it is not longer than one may be; undefined otherwise. */
export function plainOf({ parts, ...rest }: RichBlock): TextBlock | undefined {
  const isPlain = parts.every(
    ({ as, lines }) => as === 'paragraphs' && lines.flat().every((run) => !run.bold && !run.italic && run.link === undefined),
  );
  const text = textOf(parts);
  return isPlain && text.length <= MOST_PLAIN ? { ...rest, kind: 'text', text } : undefined;
}

const MOST_PLAIN = 2000;

/** The letters alone, a line each. */
export const textOf = (parts: readonly RichPart[]): string =>
  parts
    .flatMap(({ lines }) => lines)
    .map((line) => line.map(({ text }) => text).join(''))
    .join('\n');
