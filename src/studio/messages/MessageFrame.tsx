'use client';

import { Menu, MenuButton, MenuItem, MenuItems, Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { ArrowDown, ArrowUp, Braces, Copy, MoreHorizontal, Plus, SlidersHorizontal, Trash2 } from 'lucide-react';
import type { CSSProperties, RefObject } from 'react';
import { memo, useEffect, useRef, useState } from 'react';
import type { Path } from '@/core/flows/edit';
import { freshBlock, valueAt, withInserted, withMoved, withValue } from '@/core/flows/edit';
import type { Link } from '@/core/flows/links';
import { blockKindOf, blockKinds } from '@/core/messages/block';
import type { Format, Message } from '@/core/messages/message';
import { useRecorded } from '../rule/recorded';
import { ActionsMenu } from './Actions';
import { BlockSettings, hasSettings } from './BlockSettings';
import { pathKey } from './board';
import { ConversationScript } from './ConversationScript';
import { Manners } from './Manners';
import type { BlockPlace, Rect, TextPlace } from './useDrawn';
import { anchorsOf, useDrawn } from './useDrawn';

export interface Measured {
  readonly height: number;
  /** Of each link's path, how far down it begins. */
  readonly anchors: Readonly<Record<string, number>>;
}

export interface MessageFrameProps {
  readonly message: Message;
  readonly isStart: boolean;
  readonly width: number;
  readonly zoom: number;
  readonly ground: 'light' | 'dark';
  readonly direction: 'ltr' | 'rtl';
  readonly links: readonly Link[];
  readonly messages: readonly string[];
  readonly onChange: (id: string, message: Message) => void;
  readonly onRename: (id: string, to: string) => void;
  readonly onStart: (id: string) => void;
  readonly onCopy: (id: string) => void;
  readonly onRemove: (id: string) => void;
  readonly onOpenNew: (id: string, path: Path, format: Format) => void;
  readonly onMeasured: (id: string, measured: Measured) => void;
}

const FORMATS: Readonly<Record<Format, string>> = {
  popup: 'pop-up',
  banner: 'banner',
  chat: 'chat message',
  inset: 'inset',
  tab: 'tab',
  quiet: 'quiet action',
};

/** One message of the storyboard: drawn as on the site, written where it stands, with how it behaves under it. */
export const MessageFrame = memo(function MessageFrame(props: MessageFrameProps) {
  const { message, isStart, width, zoom, ground, direction, links, messages, onChange, onMeasured } = props;
  const stage = useRef<HTMLDivElement>(null);
  const whole = useRef<HTMLElement>(null);
  const above = useRef<HTMLDivElement>(null);
  const places = useDrawn(stage, message, zoom);
  const [active, setActive] = useState<string>();
  const caretRef = useRef<Caret>(undefined);
  const { id } = message;
  const anchors = anchorsOf(places, links);
  const put = (next: Message): void => onChange(id, next);

  useEffect(() => {
    const element = whole.current;
    if (!element) return undefined;
    const tell = (): void => {
      const offset = above.current?.offsetTop ?? 0;
      const anchors = Object.fromEntries([...anchorsOf(places, links)].map(([key, y]) => [key, offset + y]));
      onMeasured(id, { height: element.offsetHeight, anchors });
    };
    tell();
    const onSize = new ResizeObserver(tell);
    onSize.observe(element);
    return () => onSize.disconnect();
  }, [id, places, links, onMeasured]);

  return (
    <section ref={whole} aria-label={`Message ${id}`} style={{ width }} className="group/frame">
      <FrameHead {...props} format={FORMATS[message.format]} />
      <div
        ref={above}
        className="relative"
        onPointerLeave={({ currentTarget }) => !currentTarget.querySelector('[data-open], :focus') && setActive(undefined)}
      >
        <div
          ref={stage}
          dir={direction}
          className={`grid min-h-24 content-center overflow-hidden p-6 ${message.format === 'banner' ? 'px-0' : ''} ${ground === 'dark' ? 'bg-[#23292a]' : 'bg-[#dde2dc]'}`}
        />
        {message.format === 'quiet' && (
          <p className="absolute inset-0 grid place-items-center text-sm text-[#55605c]">
            {links[0]?.words.join(', ') || 'does nothing yet'}
          </p>
        )}
        <Overlay message={message} places={places.blocks} active={active} caretRef={caretRef} onActive={setActive} onChange={put} />
        {places.texts.map((place) => (
          <Written key={pathKey(place.path)} place={place} message={message} caretRef={caretRef} onChange={put} />
        ))}
        {links.map((link) => (
          <LinkDot
            key={pathKey(link.path)}
            link={link}
            top={anchors.get(pathKey(link.path)) ?? 0}
            messages={messages}
            onChange={(does) => put(link.path.at(-1) === 'opens' ? message : withValue(message, link.path, does))}
            onOpenNew={(format) => props.onOpenNew(id, link.path, format)}
          />
        ))}
      </div>
      <div className="bg-bone pt-2">
        <Manners message={message} onChange={put} />
        {message.format === 'tab' && (
          <label className="mt-1 flex items-center gap-2 text-soft">
            Pressed, it opens
            <select className="field" value={message.opens} onChange={({ target }) => put({ ...message, opens: target.value })}>
              {messages.map((one) => (
                <option key={one}>{one}</option>
              ))}
            </select>
          </label>
        )}
        {message.format === 'chat' && <ConversationScript message={message} messages={messages} onChange={put} />}
        {isStart && <span className="sr-only">The campaign begins here.</span>}
      </div>
    </section>
  );
});

function FrameHead({ message, isStart, format, onRename, onStart, onCopy, onRemove }: MessageFrameProps & { format: string }) {
  const [typed, setTyped] = useState<string>();
  const { id } = message;
  const isGood = /^[a-z0-9][a-z0-9_-]{0,59}$/i.test(typed ?? id);
  return (
    <div className="flex h-8 items-center gap-2">
      <input
        aria-label={`Name of the message ${id}`}
        aria-invalid={!isGood}
        title={isGood ? undefined : 'Letters, digits, - and _; at most 60'}
        className="min-w-8 max-w-64 rounded-sm bg-transparent font-semibold [field-sizing:content] hover:bg-paper focus:bg-paper aria-invalid:text-danger"
        value={typed ?? id}
        maxLength={60}
        onChange={({ target }) => setTyped(target.value)}
        onKeyDown={({ key, currentTarget }) => key === 'Enter' && currentTarget.blur()}
        onBlur={() => {
          if (typed !== undefined && isGood) onRename(id, typed);
          setTyped(undefined);
        }}
      />
      <span className="text-xs text-soft">
        {format}
        {isStart && ' · begins here'}
      </span>
      <Menu>
        <MenuButton
          aria-label={`Actions for the message ${id}`}
          className="ms-auto rounded px-2 text-soft opacity-60 hover:bg-paper focus:opacity-100 group-hover/frame:opacity-100"
        >
          <MoreHorizontal size={16} aria-hidden="true" />
        </MenuButton>
        <MenuItems anchor="bottom end" className="z-40 w-48 sheet p-1 shadow-lg">
          {(
            [
              ['Begin here', () => onStart(id)],
              ['Make a copy', () => onCopy(id)],
              ['Copy as JSON', () => void navigator.clipboard?.writeText(JSON.stringify(message, null, 2))],
              ['Take it out', () => onRemove(id)],
            ] as const
          ).map(([words, run]) => (
            <MenuItem key={words}>
              <button className="block w-full rounded px-3 py-1.5 text-start data-focus:bg-bone" onClick={run}>
                {words}
              </button>
            </MenuItem>
          ))}
        </MenuItems>
      </Menu>
    </div>
  );
}

const at = ({ left, top, width, height }: Rect): CSSProperties => ({ position: 'absolute', left, top, width, height });

/** Where somebody last wrote. */
interface Caret {
  readonly path: Path;
  readonly at: number;
}
type CaretRef = RefObject<Caret | undefined>;

interface OverlayProps {
  readonly message: Message;
  readonly places: readonly BlockPlace[];
  readonly active: string | undefined;
  readonly caretRef: CaretRef;
  readonly onActive: (path: string | undefined) => void;
  readonly onChange: (message: Message) => void;
}

/** Over what is drawn: its texts to write in, gaps to put blocks into, and a line of tools at the block one is at. */
function Overlay({ message, places, active, caretRef, onActive, onChange }: OverlayProps) {
  if (!('blocks' in message)) return null;
  return (
    <>
      {message.blocks.length === 0 && (
        <div className="absolute inset-x-0 top-1/2 flex -translate-y-1/2 justify-center">
          <Gap message={message} list={['blocks']} index={0} before={undefined} onChange={onChange} isOpen />
        </div>
      )}
      {places.map(({ path, block, rect, texts }) => {
        const key = pathKey(path);
        const isActive = active === key;
        const { label } = blockKindOf(block);
        return (
          <div key={key} role="group" aria-label={label} onPointerEnter={() => onActive(key)} onFocus={() => onActive(key)}>
            <GapAt message={message} place={{ path, block, rect, texts }} onChange={onChange} />
            {block.kind === 'columns' ? null : texts.length === 0 ? (
              <button aria-label={label} style={at(rect)} className="rounded-sm hover:outline hover:outline-dashed hover:outline-edge" />
            ) : (
              <div style={at(rect)} className={`rounded-sm ${isActive ? 'outline outline-dashed outline-edge' : ''}`} />
            )}
            {texts.map((text) => (
              <Written key={pathKey(text.path)} place={text} message={message} caretRef={caretRef} onChange={onChange} />
            ))}
            {isActive && <Tools message={message} place={{ path, block, rect, texts }} caretRef={caretRef} onChange={onChange} />}
          </div>
        );
      })}
    </>
  );
}

/** A text that is written where it stands: unseen until somebody is in it, and then just as it is drawn. */
function Written({
  place,
  message,
  caretRef,
  onChange,
}: {
  place: TextPlace;
  message: Message;
  caretRef: CaretRef;
  onChange: (message: Message) => void;
}) {
  const { path, label, most, hasLines, rect, style } = place;
  const value = valueAt(message, path);
  if (typeof value !== 'string') return null;
  return (
    <textarea
      aria-label={`${label} of ${message.id}`}
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
      onChange={({ target }) => onChange(withValue(message, path, hasLines ? target.value : target.value.replaceAll('\n', ' ')))}
    />
  );
}

const listOf = (path: Path): Path => path.slice(0, -1);

function GapAt({
  message,
  place: { path, block, rect },
  onChange,
}: {
  message: Message;
  place: BlockPlace;
  onChange: (message: Message) => void;
}) {
  const list = listOf(path);
  const index = Number(path.at(-1));
  const { length } = (valueAt(message, list) ?? []) as readonly unknown[];
  const strip = { left: rect.left, width: rect.width };
  return (
    <>
      <div className="absolute z-[5] flex h-5 justify-center" style={{ ...strip, top: rect.top - 14 }}>
        <Gap message={message} list={list} index={index} before={blockKindOf(block).label} onChange={onChange} />
      </div>
      {index === length - 1 && (
        <div className="absolute z-[5] flex h-5 justify-center" style={{ ...strip, top: rect.top + rect.height - 2 }}>
          <Gap message={message} list={list} index={length} before={undefined} onChange={onChange} />
        </div>
      )}
    </>
  );
}

/** Between two blocks: what can be put there. */
function Gap({
  message,
  list,
  index,
  before,
  onChange,
  isOpen = false,
}: {
  message: Message;
  list: Path;
  index: number;
  before: string | undefined;
  onChange: (message: Message) => void;
  isOpen?: boolean;
}) {
  const kinds = blockKinds().filter(({ kind }) => list.length === 1 || kind !== 'columns');
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
              onClick={() => onChange(withInserted(message, list, index, freshBlock(kind)))}
            >
              {label}
            </button>
          </MenuItem>
        ))}
      </MenuItems>
    </Menu>
  );
}

/** What can be done with a block, on a small line over it. */
function Tools({
  message,
  place: { path, block, rect, texts },
  caretRef,
  onChange,
}: {
  message: Message;
  place: BlockPlace;
  caretRef: CaretRef;
  onChange: (message: Message) => void;
}) {
  const { label } = blockKindOf(block);
  const list = (valueAt(message, listOf(path)) ?? []) as readonly unknown[];
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
            <BlockSettings block={block} onChange={(next) => onChange(withValue(message, path, next))} />
          </PopoverPanel>
        </Popover>
      )}
      {texts.length > 0 && <Values label={label} message={message} texts={texts} caretRef={caretRef} onChange={onChange} />}
      <button
        aria-label={`Move up: ${label}`}
        className={tool}
        disabled={index === 0}
        onClick={() => onChange(withMoved(message, path, -1))}
      >
        <ArrowUp size={14} aria-hidden="true" />
      </button>
      <button
        aria-label={`Move down: ${label}`}
        className={tool}
        disabled={index >= list.length - 1}
        onClick={() => onChange(withMoved(message, path, 1))}
      >
        <ArrowDown size={14} aria-hidden="true" />
      </button>
      <button
        aria-label={`Copy: ${label}`}
        className={tool}
        onClick={() => onChange(withInserted(message, listOf(path), index + 1, block))}
      >
        <Copy size={14} aria-hidden="true" />
      </button>
      <button aria-label={`Take out: ${label}`} className={tool} onClick={() => onChange(withValue(message, path, undefined))}>
        <Trash2 size={14} aria-hidden="true" />
      </button>
    </div>
  );
}

/** What the site has on record of visitors, to put into a text where somebody last wrote in it. */
function Values({
  label,
  message,
  texts,
  caretRef,
  onChange,
}: {
  label: string;
  message: Message;
  texts: readonly TextPlace[];
  caretRef: CaretRef;
  onChange: (message: Message) => void;
}) {
  const { traits } = useRecorded();
  const names = traits.map(({ value }) => value.replaceAll('_', ' '));
  const put = (name: string): void => {
    const text = texts.find((one) => pathKey(one.path) === pathKey(caretRef.current?.path ?? [])) ?? texts[0];
    const value = text && valueAt(message, text.path);
    if (!text || typeof value !== 'string') return;
    const at = pathKey(text.path) === pathKey(caretRef.current?.path ?? []) ? (caretRef.current?.at ?? value.length) : value.length;
    const put = `${value.slice(0, at)}{${name}, or …}${value.slice(at)}`;
    if (put.length <= text.most) onChange(withValue(message, text.path, put));
  };
  return (
    <Menu>
      <MenuButton aria-label={`Put a value in: ${label}`} title="A value of the visitor" className="rounded p-1 text-ink hover:bg-bone">
        <Braces size={14} aria-hidden="true" />
      </MenuButton>
      <MenuItems anchor={{ to: 'bottom start', gap: 6 }} className="z-40 grid max-h-72 w-56 overflow-auto sheet p-1 shadow-lg">
        {(names.length ? names : ['first name']).map((name) => (
          <MenuItem key={name}>
            <button className="flex w-full justify-between rounded px-3 py-1.5 text-start data-focus:bg-bone" onClick={() => put(name)}>
              {name}
              <span className="text-soft">
                {traits.find(({ value }) => value.replaceAll('_', ' ') === name)?.times.toLocaleString('en-GB') ?? 'nobody yet'}
              </span>
            </button>
          </MenuItem>
        ))}
      </MenuItems>
    </Menu>
  );
}

/** Where a line begins: opens what the button does. */
function LinkDot({
  link,
  top,
  messages,
  onChange,
  onOpenNew,
}: {
  link: Link;
  top: number;
  messages: readonly string[];
  onChange: (does: Link['does'][number][]) => void;
  onOpenNew: (format: Format) => void;
}) {
  if (link.path.at(-1) === 'opens') return null;
  return (
    <div className="absolute z-10" style={{ right: -8, top: top - 8 }}>
      <ActionsMenu
        label={link.label ? `What “${link.label}” does` : 'What it does'}
        className="block h-4 w-4 rounded-sm border-2 border-ink bg-paper hover:bg-pine"
        button={<span className="sr-only">change</span>}
        does={link.does}
        messages={messages}
        onChange={onChange}
        onOpenNew={onOpenNew}
      />
    </div>
  );
}
