'use client';

import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import { Plus } from 'lucide-react';
import type { CSSProperties } from 'react';
import { memo } from 'react';
import type { Brand } from '@/core/brand/brand';
import { freshBlock, valueAt, withInserted, withPlaced } from '@/core/flows/edit';
import type { Block } from '@/core/messages/block';
import { blockKindOf, blockKinds } from '@/core/messages/block';
import type { Message } from '@/core/messages/message';
import { listOf, pathKey } from './board';
import type { CaretRef, Edit } from './caret';
import { BlockGrip } from './Grip';
import { RichText } from './RichText';
import { Tools } from './Tools';
import type { BlockPlace, Rect } from './useDrawn';
import { Written } from './Written';

/** From the top of a block to that of the gap before it, in px. */
const GAP_ABOVE = 12;
/** By how much gaps of columns and of what is in them stand apart, in px. */
const COLUMNS_APART = 6;

/** From what is in columns to the edge by which they are picked, past the grips of that, in px. */
const EDGE_APART = 34;
/** Columns are picked at an edge beside them: what is in them covers the rest. */
const besides = ({ left, top, height }: Rect): CSSProperties => ({ position: 'absolute', left: left - EDGE_APART, top, width: 6, height });
const at = ({ left, top, width, height }: Rect): CSSProperties => ({ position: 'absolute', left, top, width, height });

/** Over what is drawn: its texts to write in, gaps to put blocks into and grips to drag them by; over the message, tools of the block that somebody is at. */
export function Overlay({
  message,
  places,
  active,
  caretRef,
  logo,
  onActive,
  edit,
  write,
}: {
  message: Message;
  places: readonly BlockPlace[];
  active: string | undefined;
  caretRef: CaretRef;
  logo: Brand['logo'];
  onActive: (path: string) => void;
  edit: Edit;
  write: Edit;
}) {
  if (!('blocks' in message)) return null;
  return (
    <>
      {message.blocks.length === 0 && (
        <div className="absolute inset-x-0 top-1/2 flex -translate-y-1/2 justify-center">
          <Gap list="blocks" index={0} before={undefined} logo={logo} edit={edit} isOpen />
        </div>
      )}
      {places.map((place) => {
        const key = pathKey(place.path);
        const block = valueAt(message, place.path) as Block | undefined;
        // What has just been taken out is still drawn for a moment.
        if (block?.kind !== place.block.kind) return null;
        return (
          <BlockOverlay
            key={key}
            place={place}
            block={block}
            count={((valueAt(message, listOf(place.path)) ?? []) as readonly unknown[]).length}
            id={message.id}
            isActive={active === key}
            caretRef={caretRef}
            logo={logo}
            onActive={onActive}
            edit={edit}
            write={write}
          />
        );
      })}
    </>
  );
}

interface BlockOverlayProps {
  readonly place: BlockPlace;
  /** As it is now; what is drawn may be a moment older. */
  readonly block: Block;
  /** Of blocks in its list. */
  readonly count: number;
  readonly id: string;
  readonly isActive: boolean;
  readonly caretRef: CaretRef;
  readonly logo: Brand['logo'];
  readonly onActive: (path: string) => void;
  readonly edit: Edit;
  readonly write: Edit;
}

/** Of one block; drawn anew only where it has changed or moved. */
const BlockOverlay = memo(function BlockOverlay({
  place,
  block,
  count,
  id,
  isActive,
  caretRef,
  logo,
  onActive,
  edit,
  write,
}: BlockOverlayProps) {
  const { path, rect, texts } = place;
  const key = pathKey(path);
  const list = pathKey(listOf(path));
  const index = Number(path.at(-1));
  const { label } = blockKindOf(block);
  const strip = { left: rect.left, width: rect.width };
  // Where columns begin and end, what is put before them and what is put on top of one are told apart.
  const outside = block.kind === 'columns' ? COLUMNS_APART : 0;
  const inside = path.length > 2 ? COLUMNS_APART : 0;
  const isAtEnd = path.at(-2) === 'end';
  return (
    <div role="group" aria-label={label} data-block={isActive ? 'picked' : ''} onClick={() => onActive(key)} onFocus={() => onActive(key)}>
      <div
        className="board-gap"
        data-gap={`${list}:${index}`}
        style={{ ...strip, top: rect.top - GAP_ABOVE - outside + (index === 0 ? inside : 0) }}
      >
        <Gap list={list} index={index} before={label} logo={logo} edit={edit} />
      </div>
      {texts.length === 0 ? (
        <button
          aria-label={label}
          style={block.kind === 'columns' ? besides(rect) : at(rect)}
          className={block.kind === 'columns' ? 'board-edge' : 'board-outline'}
        />
      ) : (
        <div style={at(rect)} className="board-outline" />
      )}
      <BlockGrip
        label={label}
        canGo={(to) => block.kind !== 'columns' || to === 'blocks'}
        style={
          isAtEnd
            ? { left: rect.left + rect.width + 2, top: rect.top, transformOrigin: 'left top' }
            : { right: `calc(100% - ${rect.left - 2 - (block.kind === 'columns' ? EDGE_APART : 0)}px)`, top: rect.top }
        }
        onPlace={(to, place) => edit((message) => withPlaced(message, path, to.split('.'), place))}
      />
      {block.for && (
        <span
          className="absolute rounded-sm border-s-4 border-people"
          style={{ left: rect.left - 10, top: rect.top, height: rect.height }}
          title="For some people only"
        />
      )}
      {texts.map((text) => (
        <Written
          key={pathKey(text.path)}
          place={text}
          value={valueAt(block, text.path.slice(path.length))}
          id={id}
          caretRef={caretRef}
          edit={edit}
          write={write}
        />
      ))}
      {block.kind === 'rich' && texts[0] && (
        <RichText place={texts[0]} block={block} path={path} id={id} caretRef={caretRef} edit={edit} write={write} />
      )}
      {isActive && <Tools place={place} block={block} count={count} caretRef={caretRef} edit={edit} />}
      {index === count - 1 && (
        <div className="board-gap" data-gap={`${list}:${count}`} style={{ ...strip, top: rect.top + rect.height - 2 + outside - inside }}>
          <Gap list={list} index={count} before={undefined} logo={logo} edit={edit} />
        </div>
      )}
    </div>
  );
});

/** Between two blocks: what can be put there. `list`: the key of the list that it would stand in. */
const Gap = memo(function Gap({
  list,
  index,
  before,
  logo,
  edit,
  isOpen = false,
}: {
  list: string;
  index: number;
  before: string | undefined;
  logo: Brand['logo'];
  edit: Edit;
  isOpen?: boolean;
}) {
  const path = list.split('.');
  const kinds = blockKinds().filter(({ kind }) => kind !== 'rich' && (path.length === 1 || kind !== 'columns'));
  return (
    <Menu>
      <MenuButton
        aria-label={`Put something in ${before === undefined ? 'at the end' : `before “${before}”`}`}
        className={`inline-flex h-4 items-center rounded-sm border px-1.5 ${isOpen ? 'border-edge bg-paper text-ink hover:border-pine' : 'unseen-gap'}`}
      >
        <Plus size={12} aria-hidden="true" />
      </MenuButton>
      <MenuItems anchor={{ to: 'bottom', gap: 4 }} className="z-40 grid w-44 sheet p-1 shadow-lg">
        {[
          ...kinds.map(({ kind, label }) => [label, freshBlock(kind)] as const),
          ...(logo ? [['Logo', { kind: 'picture' as const, ...logo }] as const] : []),
        ].map(([label, block]) => (
          <MenuItem key={label}>
            <button
              className="block w-full rounded px-3 py-1.5 text-start data-focus:bg-bone"
              onClick={() => edit((message) => withInserted(message, path, index, block))}
            >
              {label}
            </button>
          </MenuItem>
        ))}
      </MenuItems>
    </Menu>
  );
});
