// Texts with formatting as documents of their editor, and back.
import type { Mark, Node } from 'prosemirror-model';
import { Schema } from 'prosemirror-model';
import type { BlockOf } from '@/core/messages/block';
import type { RichPart, Run } from '@/core/messages/blocks/rich';
import { addressSchema } from '@/core/messages/bounds';

export const richSchema = new Schema({
  nodes: {
    doc: { content: '(paragraph | bullets | numbers)+' },
    paragraph: { content: 'text*', parseDOM: [{ tag: 'p' }], toDOM: () => ['p', 0] },
    bullets: { content: 'item+', parseDOM: [{ tag: 'ul' }], toDOM: () => ['ul', 0] },
    numbers: { content: 'item+', parseDOM: [{ tag: 'ol' }], toDOM: () => ['ol', 0] },
    item: { content: 'paragraph', defining: true, parseDOM: [{ tag: 'li' }], toDOM: () => ['li', 0] },
    text: {},
  },
  marks: {
    link: {
      attrs: { to: {} },
      inclusive: false,
      parseDOM: [
        {
          tag: 'a[href]',
          // What is pasted from elsewhere may lead anywhere: only addresses that a message may have stay.
          getAttrs: (element) => {
            const to = element.getAttribute('href') ?? '';
            return addressSchema().safeParse(to).success && { to };
          },
        },
      ],
      toDOM: ({ attrs }) => ['a', { href: String(attrs['to']) }, 0],
    },
    bold: { parseDOM: [{ tag: 'strong' }, { tag: 'b' }], toDOM: () => ['strong', 0] },
    italic: { parseDOM: [{ tag: 'em' }, { tag: 'i' }], toDOM: () => ['em', 0] },
  },
});

const { nodes, marks } = richSchema;
const LISTS = { bullets: nodes.bullets, numbers: nodes.numbers } as const;

export function docOf({ parts }: BlockOf<'rich'>): Node {
  const line = (runs: readonly Run[]): Node => nodes.paragraph.create(null, runs.map(textNode));
  const all = parts.flatMap(({ as, lines }) =>
    as === 'paragraphs'
      ? lines.map(line)
      : [
          LISTS[as].create(
            null,
            lines.map((runs) => nodes.item.create(null, line(runs))),
          ),
        ],
  );
  return nodes.doc.create(null, all.length ? all : nodes.paragraph.create());
}

const textNode = ({ text, bold, italic, link }: Run): Node =>
  richSchema.text(text, [
    ...(link === undefined ? [] : [marks.link.create({ to: link })]),
    ...(bold ? [marks.bold.create()] : []),
    ...(italic ? [marks.italic.create()] : []),
  ]);

/** Paragraphs that follow each other are one part. */
export function partsOf(doc: Node): RichPart[] {
  const parts: { as: RichPart['as']; lines: Run[][] }[] = [];
  doc.forEach((node) => {
    if (node.type !== nodes.paragraph) {
      const lines: Run[][] = [];
      node.forEach((item) => void lines.push(item.firstChild ? runsOf(item.firstChild) : []));
      return void parts.push({ as: node.type === nodes.bullets ? 'bullets' : 'numbers', lines });
    }
    const last = parts.at(-1);
    if (last?.as === 'paragraphs') last.lines.push(runsOf(node));
    else parts.push({ as: 'paragraphs', lines: [runsOf(node)] });
  });
  return parts;
}

function runsOf(paragraph: Node): Run[] {
  const runs: Run[] = [];
  paragraph.forEach(({ text, marks: on }) => {
    const link = linkAmong(on);
    runs.push({
      text: text ?? '',
      ...(marks.bold.isInSet(on) ? { bold: true as const } : {}),
      ...(marks.italic.isInSet(on) ? { italic: true as const } : {}),
      ...(link === undefined ? {} : { link }),
    });
  });
  return runs;
}

/** Where a link leads that is on these letters. */
export function linkAmong(on: readonly Mark[]): string | undefined {
  const link = marks.link.isInSet(on);
  return link && String(link.attrs['to']);
}
