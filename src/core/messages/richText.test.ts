import fc from 'fast-check';
import { richBlock } from './blocks/rich';
import { formatted, plainOf, textOf } from './richText';

const plain = (text: string) => ({ kind: 'text' as const, text });

test('a stretch over two lines is bold in both, and what stands around it is not', () => {
  expect(formatted(plain('Sleep well\nin the hut'), { bold: true }, 6, 13).parts).toEqual([
    {
      as: 'paragraphs',
      lines: [
        [{ text: 'Sleep ' }, { text: 'well', bold: true }],
        [{ text: 'in', bold: true }, { text: ' the hut' }],
      ],
    },
  ]);
});

test('with nothing marked all of it is meant, and a list takes every line', () => {
  expect(formatted(plain('One'), { link: '/huts' }, 2, 2).parts).toEqual([{ as: 'paragraphs', lines: [[{ text: 'One', link: '/huts' }]] }]);
  expect(formatted(plain('One\nTwo'), { as: 'bullets' }, 0, 1).parts).toEqual([
    { as: 'bullets', lines: [[{ text: 'One' }], [{ text: 'Two' }]] },
  ]);
});

test('formatting changes no letter of any text, and text without any is plain', () => {
  fc.assert(
    fc.property(fc.string({ maxLength: 60, unit: 'binary' }), fc.nat(70), fc.nat(70), (text, from, to) => {
      const made = formatted(plain(text), { italic: true }, from, to);
      expect(textOf(made.parts)).toBe(text);
      expect(richBlock.schema().safeParse(made).success).toBe(true);
      const bare = {
        ...made,
        parts: made.parts.map((part) => ({ ...part, lines: part.lines.map((line) => line.map((run) => ({ text: run.text }))) })),
      };
      expect(plainOf(bare)).toEqual(plain(text));
    }),
  );
});

test.each([{ bold: true as const }, { link: '/huts' }, { italic: true as const }])('%j is not plain', (format) => {
  expect(plainOf(formatted(plain('Huts'), format, 0, 2))).toBeUndefined();
});
