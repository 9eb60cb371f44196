'use client';

import { Menu, MenuButton, MenuItem, MenuItems, Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { ArrowDown, ArrowUp, Braces, Copy, SlidersHorizontal, Trash2 } from 'lucide-react';
import { valueAt, withInserted, withMoved, withValue } from '@/core/flows/edit';
import type { Block } from '@/core/messages/block';
import { blockKindOf } from '@/core/messages/block';
import { useBrand } from '../brand/useBrand';
import { useRecorded } from '../rule/recorded';
import { BlockSettings, hasSettings } from './BlockSettings';
import { listOf, pathKey } from './board';
import type { CaretRef, Edit } from './caret';
import { ForWhom } from './ForWhom';
import { FormatTools } from './FormatTools';
import type { BlockPlace, TextPlace } from './useDrawn';

/** What can be done with a block, on a small line over it. */
export function Tools({
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
      {(block.kind === 'text' || block.kind === 'rich') && <FormatTools path={path} block={block} caretRef={caretRef} edit={edit} />}
      {texts.length > 0 && <Values label={label} texts={texts} caretRef={caretRef} edit={edit} />}
      <ForWhom
        label={label}
        block={block}
        className={tool}
        onChange={(people) => edit((message) => withValue(message, [...path, 'for'], people))}
      />
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
  const { values = [] } = useBrand();
  const names = [...traits.map(({ value }) => value.replaceAll('_', ' ')), 'city', 'country'];
  const ofSite = values.map((value) => ({ name: `site ${value.name}`, text: value.text }));
  const put = (name: string, fallback = ', or …'): void => {
    const { last, rich: riches } = caretRef.current;
    const text = texts.find((one) => pathKey(one.path) === pathKey(last?.path ?? [])) ?? texts[0];
    if (!text) return;
    const rich = riches.get(pathKey(listOf(text.path)));
    if (rich) return rich.insert(`{${name}${fallback}}`);
    edit((message) => {
      const value = valueAt(message, text.path);
      if (typeof value !== 'string') return message;
      const at = last && pathKey(text.path) === pathKey(last.path) ? last.from : value.length;
      const next = `${value.slice(0, at)}{${name}${fallback}}${value.slice(at)}`;
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
        {ofSite.map(({ name, text }) => (
          <MenuItem key={name}>
            <button
              className="flex w-full justify-between gap-3 rounded px-3 py-1.5 text-start data-focus:bg-bone"
              onClick={() => put(name, '')}
            >
              {name}
              <span className="truncate text-soft">{text}</span>
            </button>
          </MenuItem>
        ))}
      </MenuItems>
    </Menu>
  );
}
