'use client';

import { Menu, MenuButton, MenuItem, MenuItems, Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { ArrowDown, ArrowUp, Braces, Copy, Plus, SlidersHorizontal, Trash2 } from 'lucide-react';
import type { CSSProperties, RefObject } from 'react';
import { memo } from 'react';
import type { Path } from '@/core/flows/edit';
import { freshBlock, valueAt, withInserted, withMoved, withValue } from '@/core/flows/edit';
import type { Block } from '@/core/messages/block';
import { blockKindOf, blockKinds } from '@/core/messages/block';
import type { Message } from '@/core/messages/message';
import { useRecorded } from '../rule/recorded';
import { BlockSettings, hasSettings } from './BlockSettings';
import { pathKey } from './board';
import type { BlockPlace, Rect, TextPlace } from './useDrawn';

const at = ({ left, top, width, height }: Rect): CSSProperties => ({ position: 'absolute', left, top, width, height });

/** Where somebody last wrote. */
export interface Caret {
  readonly path: Path;
  readonly at: number;
}
export type CaretRef = RefObject<Caret | undefined>;

/** Changes the message as it is by then; the same function for as long as the frame is there. */
export type Edit = (change: (message: Message) => Message) => void;

/** Over what is drawn: its texts to write in, gaps to put blocks into, and a line of tools at the block one is at. */
export function Overlay({
  message,
  places,
  active,
  caretRef,
  onActive,
  edit,
}: {
  message: Message;
  places: readonly BlockPlace[];
  active: string | undefined;
  caretRef: CaretRef;
  onActive: (path: string | undefined) => void;
  edit: Edit;
}) {
  if (!('blocks' in message)) return null;
  return (
    <>
      {message.blocks.length === 0 && (
        <div className="absolute inset-x-0 top-1/2 flex -translate-y-1/2 justify-center">
          <Gap list="blocks" index={0} before={undefined} edit={edit} isOpen />
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
            onActive={onActive}
            edit={edit}
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
  readonly onActive: (path: string | undefined) => void;
  readonly edit: Edit;
}

/** Of one block; drawn anew only where it has changed or moved. */
const BlockOverlay = memo(function BlockOverlay({ place, block, count, id, isActive, caretRef, onActive, edit }: BlockOverlayProps) {
  const { path, rect, texts } = place;
  const key = pathKey(path);
  const list = pathKey(listOf(path));
  const index = Number(path.at(-1));
  const { label } = blockKindOf(block);
  const strip = { left: rect.left, width: rect.width };
  return (
    <div role="group" aria-label={label} onPointerEnter={() => onActive(key)} onFocus={() => onActive(key)}>
      <div className="absolute z-[5] flex h-5 justify-center" style={{ ...strip, top: rect.top - 14 }}>
        <Gap list={list} index={index} before={label} edit={edit} />
      </div>
      {block.kind === 'columns' ? null : texts.length === 0 ? (
        <button aria-label={label} style={at(rect)} className="rounded-sm hover:outline hover:outline-dashed hover:outline-edge" />
      ) : (
        <div style={at(rect)} className={`rounded-sm ${isActive ? 'outline outline-dashed outline-edge' : ''}`} />
      )}
      {texts.map((text) => (
        <Written
          key={pathKey(text.path)}
          place={text}
          value={valueAt(block, text.path.slice(path.length))}
          id={id}
          caretRef={caretRef}
          edit={edit}
        />
      ))}
      {isActive && <Tools place={place} block={block} count={count} caretRef={caretRef} edit={edit} />}
      {index === count - 1 && (
        <div className="absolute z-[5] flex h-5 justify-center" style={{ ...strip, top: rect.top + rect.height - 2 }}>
          <Gap list={list} index={count} before={undefined} edit={edit} />
        </div>
      )}
    </div>
  );
});

/** A text that is written where it stands: unseen until somebody is in it, and then just as it is drawn. */
export const Written = memo(function Written({
  place,
  value,
  id,
  caretRef,
  edit,
}: {
  place: TextPlace;
  value: unknown;
  /** Of the message. */
  id: string;
  caretRef: CaretRef;
  edit: Edit;
}) {
  const { path, label, most, hasLines, rect, style } = place;
  if (typeof value !== 'string') return null;
  return (
    <textarea
      aria-label={`${label} of ${id}`}
      className="absolute resize-none overflow-hidden border-0 opacity-0 outline-offset-2 focus:z-10 focus:opacity-100"
      style={{ ...style, left: rect.left, top: rect.top, width: rect.width + 2, height: rect.height + 2, whiteSpace: 'pre-wrap' }}
      maxLength={most}
      value={value}
      rows={1}
      spellCheck
      onSelect={({ currentTarget }) => (caretRef.current = { path, at: currentTarget.selectionStart })}
      onKeyDown={(event) => {
        if (event.key === 'Escape') event.currentTarget.blur();
        if (event.key === 'Enter' && !hasLines) event.preventDefault();
      }}
      onChange={({ target }) => {
        const typed = hasLines ? target.value : target.value.replaceAll('\n', ' ');
        edit((message) => withValue(message, path, typed));
      }}
    />
  );
});

const listOf = (path: Path): Path => path.slice(0, -1);

/** Between two blocks: what can be put there. `list`: the key of the list that it would stand in. */
const Gap = memo(function Gap({
  list,
  index,
  before,
  edit,
  isOpen = false,
}: {
  list: string;
  index: number;
  before: string | undefined;
  edit: Edit;
  isOpen?: boolean;
}) {
  const path = list.split('.');
  const kinds = blockKinds().filter(({ kind }) => path.length === 1 || kind !== 'columns');
  return (
    <Menu>
      <MenuButton
        aria-label={`Put something in ${before === undefined ? 'at the end' : `before “${before}”`}`}
        className={`inline-flex h-5 items-center rounded-sm border border-edge bg-paper px-1.5 text-ink hover:border-pine focus:opacity-100 data-open:opacity-100 ${isOpen ? '' : 'opacity-0 hover:opacity-100'}`}
      >
        <Plus size={12} aria-hidden="true" />
      </MenuButton>
      <MenuItems anchor={{ to: 'bottom', gap: 4 }} className="z-40 grid w-44 sheet p-1 shadow-lg">
        {kinds.map(({ kind, label }) => (
          <MenuItem key={kind}>
            <button
              className="block w-full rounded px-3 py-1.5 text-start data-focus:bg-bone"
              onClick={() => edit((message) => withInserted(message, path, index, freshBlock(kind)))}
            >
              {label}
            </button>
          </MenuItem>
        ))}
      </MenuItems>
    </Menu>
  );
});

/** What can be done with a block, on a small line over it. */
function Tools({
  place: { path, rect, texts },
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
  const tool = 'rounded p-1 text-ink enabled:hover:bg-bone disabled:opacity-40';
  return (
    <div
      role="toolbar"
      aria-label={`Tools: ${label}`}
      style={{ left: rect.left, top: rect.top - 34 }}
      className="absolute z-20 flex items-center gap-0.5 rounded border border-line bg-paper px-1 text-xs shadow"
    >
      <b className="px-1.5">{label}</b>
      {hasSettings(block) && (
        <Popover>
          <PopoverButton aria-label={`What this is: ${label}`} className={tool}>
            <SlidersHorizontal size={14} aria-hidden="true" />
          </PopoverButton>
          <PopoverPanel
            anchor={{ to: 'bottom start', gap: 8 }}
            focus
            className="z-40 grid w-[440px] max-w-[90vw] gap-3 sheet p-3 text-sm shadow-lg"
          >
            <BlockSettings block={block} onChange={(next) => edit((message) => withValue(message, path, next))} />
          </PopoverPanel>
        </Popover>
      )}
      {texts.length > 0 && <Values label={label} texts={texts} caretRef={caretRef} edit={edit} />}
      <button
        aria-label={`Move up: ${label}`}
        className={tool}
        disabled={index === 0}
        onClick={() => edit((message) => withMoved(message, path, -1))}
      >
        <ArrowUp size={14} aria-hidden="true" />
      </button>
      <button
        aria-label={`Move down: ${label}`}
        className={tool}
        disabled={index >= count - 1}
        onClick={() => edit((message) => withMoved(message, path, 1))}
      >
        <ArrowDown size={14} aria-hidden="true" />
      </button>
      <button
        aria-label={`Copy: ${label}`}
        className={tool}
        onClick={() => edit((message) => withInserted(message, listOf(path), index + 1, block))}
      >
        <Copy size={14} aria-hidden="true" />
      </button>
      <button aria-label={`Take out: ${label}`} className={tool} onClick={() => edit((message) => withValue(message, path, undefined))}>
        <Trash2 size={14} aria-hidden="true" />
      </button>
    </div>
  );
}

/** What the site has on record of visitors, to put into a text where somebody last wrote in it. */
function Values({ label, texts, caretRef, edit }: { label: string; texts: readonly TextPlace[]; caretRef: CaretRef; edit: Edit }) {
  const { traits } = useRecorded();
  const names = [...traits.map(({ value }) => value.replaceAll('_', ' ')), 'city', 'country'];
  const put = (name: string): void => {
    const text = texts.find((one) => pathKey(one.path) === pathKey(caretRef.current?.path ?? [])) ?? texts[0];
    if (!text) return;
    edit((message) => {
      const value = valueAt(message, text.path);
      if (typeof value !== 'string') return message;
      const at = pathKey(text.path) === pathKey(caretRef.current?.path ?? []) ? (caretRef.current?.at ?? value.length) : value.length;
      const next = `${value.slice(0, at)}{${name}, or …}${value.slice(at)}`;
      return next.length <= text.most ? withValue(message, text.path, next) : message;
    });
  };
  return (
    <Menu>
      <MenuButton aria-label={`Put a value in: ${label}`} title="A value of the visitor" className="rounded p-1 text-ink hover:bg-bone">
        <Braces size={14} aria-hidden="true" />
      </MenuButton>
      <MenuItems anchor={{ to: 'bottom start', gap: 6 }} className="z-40 grid max-h-72 w-56 overflow-auto sheet p-1 shadow-lg">
        {[...new Set(traits.length ? names : ['first name', ...names])].map((name) => (
          <MenuItem key={name}>
            <button className="flex w-full justify-between rounded px-3 py-1.5 text-start data-focus:bg-bone" onClick={() => put(name)}>
              {name}
              <span className="text-soft">
                {traits.find(({ value }) => value.replaceAll('_', ' ') === name)?.times.toLocaleString('en-GB') ??
                  (name === 'first name' ? 'nobody yet' : 'by place')}
              </span>
            </button>
          </MenuItem>
        ))}
      </MenuItems>
    </Menu>
  );
}
