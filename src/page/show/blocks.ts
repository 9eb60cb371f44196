import type { Action } from '@/core/messages/action';
import type { Block } from '@/core/messages/block';
import type { Context } from './context';
import { absolute, group, make } from './element';
import { drawForm } from './form';

export const drawBlocks = (blocks: readonly Block[], context: Context): HTMLElement[] =>
  blocks.map((block, index) => drawBlock(block, context, `b${index}`));

function drawBlock(block: Block, context: Context, id: string): HTMLElement {
  const { text } = context;
  switch (block.kind) {
    case 'heading':
      return make('h2', text(block.text));
    case 'text':
      return make('p', text(block.text));
    case 'picture':
      return make('img', '', {
        src: absolute(block.src),
        alt: block.alt,
        width: String(block.width),
        height: String(block.height),
      });
    case 'buttons': {
      const row = make('div', '', { class: 'buttons' });
      row.append(...block.buttons.map(({ label, quiet, does }) => drawButton(text(label), quiet === true, does, context)));
      return row;
    }
    case 'form':
      return drawForm(block, context, id);
    case 'choice':
      return group(
        text(block.question),
        block.answers.map(({ label, does }) => drawButton(text(label), true, does, context)),
        id,
      );
    case 'countdown':
    case 'coupon':
    case 'rating':
      return context.deps.drawExtra(block, context, id);
    case 'spacer': {
      const space = make('div');
      space.style.height = `${block.height}px`;
      return space;
    }
    case 'columns': {
      const columns = make('div', '', { class: 'columns' });
      for (const side of ['start', 'end'] as const) {
        const column = make('div');
        column.append(...block[side].map((one, index) => drawBlock(one, context, `${id}${side}${index}`)));
        columns.append(column);
      }
      return columns;
    }
  }
}

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
