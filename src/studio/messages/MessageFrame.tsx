'use client';

import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import { MoreHorizontal } from 'lucide-react';
import type { CSSProperties, RefObject } from 'react';
import { memo, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import type { Brand, Sender } from '@/core/brand/brand';
import { branded } from '@/core/brand/brand';
import type { Path } from '@/core/flows/edit';
import { valueAt, withValue } from '@/core/flows/edit';
import type { Link } from '@/core/flows/links';
import type { Format, Message } from '@/core/messages/message';
import type { Rule } from '@/core/rules/schema';
import { ActionsMenu } from './Actions';
import type { Point } from './board';
import { pathKey } from './board';
import { ConversationScript } from './ConversationScript';
import { FrameGrip } from './Grip';
import { Manners } from './Manners';
import type { Edit, Writing } from './caret';
import { Overlay } from './Overlay';
import { anchorsOf, useDrawn } from './useDrawn';
import { WhoSees } from './WhoSees';
import { Written } from './Written';

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
  /** What the board is scrolled in. */
  readonly around: RefObject<HTMLElement | null>;
  readonly ground: 'light' | 'dark';
  readonly direction: 'ltr' | 'rtl';
  /** What all messages of the site have in common. */
  readonly brand: Brand;
  /** Of the campaign. */
  readonly rule: Rule;
  /** Of whoever it is shown to. */
  readonly values: Readonly<Record<string, string>>;
  readonly links: readonly Link[];
  readonly messages: readonly string[];
  /** Changes the message as it is by then. */
  readonly onEdit: (id: string, change: (message: Message) => Message) => void;
  /** As `onEdit`, for what is typed and seen where it is typed before it is drawn. */
  readonly onWrite: (id: string, change: (message: Message) => Message) => void;
  readonly onRename: (id: string, to: string) => void;
  readonly onStart: (id: string) => void;
  readonly onCopy: (id: string) => void;
  readonly onRemove: (id: string) => void;
  readonly onOpenNew: (id: string, path: Path, format: Format) => void;
  readonly onTry: (id: string) => void;
  readonly onShift: (id: string, by: Point) => void;
  readonly onMeasured: (id: string, measured: Measured) => void;
}

const lastForAll = (message: Message): Message =>
  'blocks' in message ? withValue(message, ['blocks', message.blocks.length - 1, 'for'], undefined) : message;

/** What is another in `next` than in `before`, put into `now`, which may know more than both. */
function withChanged(now: Message, before: Message, next: Message): Message {
  if (now === before || now.format !== next.format) return next;
  const keys = new Set([...Object.keys(before), ...Object.keys(next)]) as Set<keyof Message>;
  const made = { ...now };
  for (const key of keys)
    if (before[key] !== next[key]) {
      if (key in next) Object.assign(made, { [key]: next[key] });
      else delete made[key];
    }
  return made;
}

const NO_SENDERS: readonly Sender[] = [];
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
  const { message, isStart, width, zoom, ground, direction, brand, rule, links, messages, onEdit, onWrite, onMeasured } = props;
  const stage = useRef<HTMLDivElement>(null);
  const whole = useRef<HTMLElement>(null);
  const above = useRef<HTMLDivElement>(null);
  const shown = useMemo(() => branded(message, brand), [message, brand]);
  const places = useDrawn(stage, shown, { zoom, values: props.values });
  const [active, setActive] = useState<string>();
  useLeft(whole, active === undefined ? undefined : () => setActive(undefined));
  const hasBeenNear = useHasBeenNear(whole, props.around);
  const caretRef = useRef<Writing>({ last: undefined, rich: new Map() });
  const { id } = message;
  const anchors = anchorsOf(places, links);
  const edit = useCallback<Edit>((change) => onEdit(id, change), [id, onEdit]);
  const write = useCallback<Edit>((change) => onWrite(id, change), [id, onWrite]);
  const put = (next: Message): void => edit((now) => withChanged(now, message, next));

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
    <section
      ref={whole}
      data-frame
      aria-label={`Message ${id}`}
      style={{ width }}
      className="group/frame pointer-events-auto contain-[layout_style]"
    >
      <FrameHead {...props} format={FORMATS[message.format]} />
      <div ref={above} className="relative" style={{ '--zoom': zoom } as CSSProperties}>
        <div
          ref={stage}
          dir={direction}
          className={`grid min-h-24 content-center overflow-hidden p-6 contain-[layout_paint_style] ${message.format === 'banner' ? 'px-0' : ''} ${ground === 'dark' ? 'bg-[#23292a]' : 'bg-[#dde2dc]'}`}
        />
        {message.format === 'quiet' && (
          <p className="absolute inset-0 grid place-items-center text-sm text-[#55605c]">
            {links[0]?.words.join(', ') || 'does nothing yet'}
          </p>
        )}
        {hasBeenNear && (
          <Overlay
            message={message}
            places={places.blocks}
            active={active}
            caretRef={caretRef}
            logo={brand.logo}
            onActive={setActive}
            edit={edit}
            write={write}
          />
        )}
        {places.texts.map((place) => (
          <Written
            key={pathKey(place.path)}
            place={place}
            value={valueAt(message, place.path)}
            id={id}
            caretRef={caretRef}
            edit={edit}
            write={write}
          />
        ))}
        {links.map((link) => (
          <LinkDot
            key={pathKey(link.path)}
            link={link}
            top={anchors.get(pathKey(link.path)) ?? 0}
            messages={messages}
            onChange={(does) => edit((now) => withValue(now, link.path, does))}
            onOpenNew={(format) => props.onOpenNew(id, link.path, format)}
          />
        ))}
      </div>
      <div className="bg-bone pt-2">
        <Manners message={message} brand={brand} onChange={put} />
        <WhoSees message={message} rule={rule} onForAll={() => edit(lastForAll)} />
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
        {message.format === 'chat' && (
          <ConversationScript message={message} messages={messages} senders={brand.senders ?? NO_SENDERS} onChange={put} />
        )}
        {isStart && <span className="sr-only">The campaign begins here.</span>}
      </div>
    </section>
  );
});

/** Says when somebody goes on to something else than a block of the frame and what it has opened. */
function useLeft(frame: RefObject<HTMLElement | null>, onLeft: (() => void) | undefined): void {
  useEffect(() => {
    if (!onLeft) return undefined;
    const look = ({ target }: Event): void => {
      if (!(target instanceof Element) || target.closest('[data-headlessui-portal]')) return;
      const block = target.closest('[data-block]');
      if (!block || !frame.current?.contains(block)) onLeft();
    };
    const over = new AbortController();
    for (const type of ['pointerdown', 'focusin']) document.addEventListener(type, look, { capture: true, signal: over.signal });
    return () => over.abort();
  });
}

/** Whether it has been in sight of the board, or nearly so: what it is written with is made only then, since a campaign may have 1,200 texts. */
function useHasBeenNear(element: RefObject<HTMLElement | null>, around: RefObject<HTMLElement | null>): boolean {
  const [hasBeen, setHasBeen] = useState(false);
  useEffect(() => {
    // What is out of sight is skipped (`content-visibility`) with all that is within: what stands around it is looked at.
    const place = element.current?.parentElement;
    if (!place || hasBeen) return undefined;
    const observer = new IntersectionObserver((met) => met.some(({ isIntersecting }) => isIntersecting) && setHasBeen(true), {
      root: around.current,
      rootMargin: '100%',
    });
    observer.observe(place);
    return () => observer.disconnect();
  }, [element, around, hasBeen]);
  return hasBeen;
}

function FrameHead({
  message,
  isStart,
  zoom,
  format,
  onRename,
  onStart,
  onCopy,
  onRemove,
  onShift,
  onTry,
}: MessageFrameProps & { format: string }) {
  const [typed, setTyped] = useState<string>();
  const { id } = message;
  const isGood = /^[a-z0-9][a-z0-9_-]{0,59}$/i.test(typed ?? id);
  return (
    <div className="flex h-8 items-center gap-2">
      <FrameGrip label={`Move the message ${id}`} zoom={zoom} onShift={(by) => onShift(id, by)} />
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
              ['Try it here', () => onTry(id)],
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
