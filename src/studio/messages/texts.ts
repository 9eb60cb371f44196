import type { Path } from '@/core/flows/edit';
import type { Block } from '@/core/messages/block';
import { blockKindOf } from '@/core/messages/block';
import type { Message } from '@/core/messages/message';

/** A text of a message with the element that the page script drew it as. */
export interface DrawnText {
  readonly path: Path;
  /** What it is, for whoever does not see it. */
  readonly label: string;
  readonly element: HTMLElement;
  /** In letters, as the schema has it. */
  readonly most: number;
  readonly hasLines?: boolean;
}

/** A block with the element that it was drawn as, and the texts in it. */
export interface DrawnBlock {
  readonly path: Path;
  readonly block: Block;
  readonly element: HTMLElement;
  readonly texts: readonly DrawnText[];
}

export interface DrawnMessage {
  readonly blocks: readonly DrawnBlock[];
  /** Texts that are no block's: a tab's, a bubble's. */
  readonly texts: readonly DrawnText[];
}

/** What the page script has drawn of a message, found again in its shadow tree. */
export function drawnOf(message: Message, root: ShadowRoot): DrawnMessage {
  if (message.format === 'tab') return { blocks: [], texts: textsIn(root, [['.tab', ['text'], 'Words on the tab', 60]]) };
  if (message.format === 'chat')
    return {
      blocks: [],
      texts: message.bubble === undefined ? [] : textsIn(root, [['.bubble .words > span', ['bubble'], 'What the bubble says', 300]]),
    };
  const box = root.querySelector<HTMLElement>('.box');
  if (!('blocks' in message) || !box) return { blocks: [], texts: [] };
  const elements = childrenOf(box).filter((element) => !element.classList.contains('close'));
  return { blocks: drawnBlocks(message.blocks, elements, ['blocks']), texts: [] };
}

function drawnBlocks(blocks: readonly Block[], elements: readonly HTMLElement[], at: Path): DrawnBlock[] {
  return blocks.flatMap((block, index): DrawnBlock[] => {
    const element = elements[index];
    if (!element) return [];
    const path = [...at, index];
    const own: DrawnBlock = { path, block, element, texts: textsOf(block, element, path) };
    if (block.kind !== 'columns') return [own];
    const sides = childrenOf(element);
    return [own, ...(['start', 'end'] as const).flatMap((side, nth) => drawnBlocks(block[side], childrenOf(sides[nth]), [...path, side]))];
  });
}

const childrenOf = (element: Element | undefined): HTMLElement[] =>
  [...(element?.children ?? [])].filter((one) => one instanceof HTMLElement);

type Sought = readonly [selector: string, path: Path, label: string, most: number, hasLines?: boolean];

function textsIn(root: ParentNode, sought: readonly Sought[]): DrawnText[] {
  return sought.flatMap(([selector, path, label, most, hasLines]) => {
    const element = root.querySelector<HTMLElement>(selector);
    return element ? [{ path, label, element, most, ...(hasLines ? { hasLines } : {}) }] : [];
  });
}

function textsOf(block: Block, element: HTMLElement, path: Path): DrawnText[] {
  const own = (key: string, most: number, found: HTMLElement | null | undefined, label: string, hasLines = false): DrawnText[] =>
    found ? [{ path: [...path, key], label, element: found, most, hasLines }] : [];
  switch (block.kind) {
    case 'heading':
      return own('text', 200, element, blockKindOf(block).label);
    case 'text':
      return own('text', 2000, element, blockKindOf(block).label, true);
    case 'buttons':
      return labelsOf([...element.querySelectorAll<HTMLElement>('.button')], [...path, 'buttons'], 'Button', 100);
    case 'choice':
      return [
        ...own('question', 300, element.querySelector<HTMLElement>('.question'), 'Question'),
        ...labelsOf([...element.querySelectorAll<HTMLElement>('.button')], [...path, 'answers'], 'Answer', 200),
      ];
    case 'form':
      return [
        ...block.fields.flatMap((field, nth) => {
          const drawn = element.children[nth]?.querySelector<HTMLElement>(field.kind === 'consent' ? '.tick span' : 'legend, label');
          return drawn ? [{ path: [...path, 'fields', nth, 'label'], label: `Field ${nth + 1}`, element: drawn, most: 300 }] : [];
        }),
        ...own('submit', 100, element.querySelector<HTMLElement>('button[type=submit]'), 'Button of the form'),
      ];
    case 'coupon':
      return [
        ...own('code', 60, element.querySelector<HTMLElement>('code'), 'Code'),
        ...own('label', 200, element.querySelector<HTMLElement>('.button'), 'Button that copies'),
      ];
    case 'rating':
      return own('question', 300, element.querySelector<HTMLElement>('.question'), 'Question');
    case 'rich':
      return own('parts', 2000, element, 'Text', true);
    case 'picture':
    case 'countdown':
    case 'spacer':
    case 'columns':
      return [];
  }
}

const labelsOf = (buttons: readonly HTMLElement[], path: Path, label: string, most: number): DrawnText[] =>
  buttons.map((element, nth) => ({ path: [...path, nth, 'label'], label: `${label} ${nth + 1}`, element, most }));
