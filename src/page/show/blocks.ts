import type { Action } from '@/core/messages/action';
import type { Block, BlockOf, ExtraKind } from '@/core/messages/block';
import type { Context } from './context';
import { absolute, group, make } from './element';
import { drawForm } from './form';

export const drawBlocks = (blocks: readonly Block[], context: Context): HTMLElement[] =>
  blocks.map((block, index) => drawBlock(block, context, `b${index}`));

type Draw<B> = (block: B, context: Context, id: string) => HTMLElement;

const DRAW: { readonly [K in Exclude<Block['kind'], ExtraKind>]: Draw<BlockOf<K>> } = {
  heading: (block, { text }) => make('h2', text(block.text)),
  text: (block, { text }) => make('p', text(block.text)),
  picture: ({ src, alt, width, height }) => make('img', '', { src: absolute(src), alt, width: String(width), height: String(height) }),
  buttons: ({ buttons }, context) => {
    const row = make('div', '', { class: 'buttons' });
    row.append(...buttons.map(({ label, quiet, does }) => drawButton(context.text(label), quiet === true, does, context)));
    return row;
  },
  form: drawForm,
  choice: ({ question, answers }, context, id) =>
    group(
      context.text(question),
      answers.map(({ label, does }) => drawButton(context.text(label), true, does, context)),
      id,
    ),
  spacer: ({ height }) => {
    const space = make('div');
    space.style.height = `${height}px`;
    return space;
  },
  columns: (block, context, id) => {
    const columns = make('div', '', { class: 'columns' });
    for (const side of ['start', 'end'] as const) {
      const column = make('div');
      column.append(...block[side].map((one, index) => drawBlock(one, context, `${id}${side}${index}`)));
      columns.append(column);
    }
    return columns;
  },
};

/** What is not drawn here comes in the part for what few messages have. */
const drawBlock: Draw<Block> = (block, context, id) =>
  ((DRAW as Partial<Record<string, Draw<never>>>)[block.kind] as Draw<Block> | undefined)?.(block, context, id) ??
  context.deps.drawExtra(block as BlockOf<ExtraKind>, context, id);

/** A link where it leads somewhere, so that it can be opened as links can; a button otherwise. */
function drawButton(label: string, isQuiet: boolean, does: readonly Action[], context: Context): HTMLElement {
  const goal = does.find(({ kind }) => kind === 'page' || kind === 'phone' || kind === 'calendar');
  const attributes = { class: isQuiet ? 'button quiet' : 'button' };
  if (!goal) {
    const button = make('button', label, { ...attributes, type: 'button' });
    context.on(button, 'click', () => context.perform(does));
    return button;
  }
  const isAway = goal.kind === 'calendar' || (goal.kind === 'page' && goal.newTab === true);
  const link = make('a', label, {
    ...attributes,
    href: goal.kind === 'phone' ? `tel:${goal.number.replace(/[^+\d]/g, '')}` : 'url' in goal ? absolute(goal.url) : '',
    ...(isAway ? { target: '_blank', rel: 'noopener' } : {}),
  });
  context.on(link, 'click', (event) => {
    if (context.deps.preview) event.preventDefault();
    context.perform(does, { byLink: true });
  });
  return link;
}
