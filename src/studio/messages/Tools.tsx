'use client';

import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { ArrowDown, ArrowUp, Copy, SlidersHorizontal, Trash2 } from 'lucide-react';
import { useRef } from 'react';
import { withInserted, withMoved, withValue } from '@/core/flows/edit';
import type { Block } from '@/core/messages/block';
import { blockKindOf } from '@/core/messages/block';
import { BlockSettings, hasSettings } from './BlockSettings';
import { listOf } from './board';
import type { CaretRef, Edit } from './caret';
import { ForWhom } from './ForWhom';
import { ValuesMenu } from './ValuesMenu';
import { FormatTools } from './FormatTools';
import type { BlockPlace } from './useDrawn';
import { FirstFocused } from './Phrase';
import { useKeptInSight } from './useKeptInSight';

/** What can be done with the block that somebody is at, on a line over its message, where it covers nothing of it. */
export function Tools({
  place: { path, texts },
  block,
  count,
  caretRef,
  edit,
}: {
  place: BlockPlace;
  block: Block;
  count: number;
  caretRef: CaretRef;
  edit: Edit;
}) {
  const { label } = blockKindOf(block);
  const index = Number(path.at(-1));
  const line = useRef<HTMLDivElement>(null);
  useKeptInSight(line);
  return (
    <div ref={line} role="toolbar" aria-label={`Tools: ${label}`} className="board-tools flex w-max items-center gap-0.5">
      <b className="px-1.5">{label}</b>
      {hasSettings(block) && (
        <Popover>
          <PopoverButton aria-label={`What this is: ${label}`} className="board-tool">
            <SlidersHorizontal size={16} aria-hidden="true" />
          </PopoverButton>
          <PopoverPanel
            anchor={{ to: 'bottom start', gap: 8 }}
            className="z-40 grid w-[440px] max-w-[90vw] gap-3 sheet p-3 text-sm shadow-lg"
          >
            <FirstFocused className="grid gap-3">
              <BlockSettings block={block} onChange={(next) => edit((message) => withValue(message, path, next))} />
            </FirstFocused>
          </PopoverPanel>
        </Popover>
      )}
      {(block.kind === 'text' || block.kind === 'rich') && <FormatTools path={path} block={block} caretRef={caretRef} edit={edit} />}
      {texts.length > 0 && <ValuesMenu label={label} texts={texts} caretRef={caretRef} edit={edit} />}
      <ForWhom label={label} block={block} onChange={(people) => edit((message) => withValue(message, [...path, 'for'], people))} />
      <button
        aria-label={`Move up: ${label}`}
        className="board-tool"
        disabled={index === 0}
        onClick={() => edit((message) => withMoved(message, path, -1))}
      >
        <ArrowUp size={16} aria-hidden="true" />
      </button>
      <button
        aria-label={`Move down: ${label}`}
        className="board-tool"
        disabled={index >= count - 1}
        onClick={() => edit((message) => withMoved(message, path, 1))}
      >
        <ArrowDown size={16} aria-hidden="true" />
      </button>
      <button
        aria-label={`Copy: ${label}`}
        className="board-tool"
        onClick={() => edit((message) => withInserted(message, listOf(path), index + 1, block))}
      >
        <Copy size={16} aria-hidden="true" />
      </button>
      <button
        aria-label={`Take out: ${label}`}
        className="board-tool"
        onClick={() => edit((message) => withValue(message, path, undefined))}
      >
        <Trash2 size={16} aria-hidden="true" />
      </button>
    </div>
  );
}
