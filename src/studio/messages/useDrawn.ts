'use client';

import type { RefObject } from 'react';
import { useEffect, useLayoutEffect, useRef, useState } from 'react';
import type { Path } from '@/core/flows/edit';
import type { Message } from '@/core/messages/message';
import { drawChat } from '@/page/chat/chat';
import { atForm, drawExtra, extraStyle } from '@/page/show/extras';
import { placeStyle } from '@/page/show/place';
import type { ShowFlow } from '@/page/show/show';
import { showFlow } from '@/page/show/show';
import type { Block } from '@/core/messages/block';
import { pathKey } from './board';
import { drawnOf } from './texts';

export interface Rect {
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
}
export interface TextPlace {
  readonly path: Path;
  readonly label: string;
  readonly most: number;
  readonly hasLines: boolean;
  readonly rect: Rect;
  /** So that what is typed looks as it is drawn. */
  readonly style: Readonly<Record<string, string>>;
}
export interface BlockPlace {
  readonly path: Path;
  readonly block: Block;
  readonly rect: Rect;
  readonly texts: readonly TextPlace[];
}
export interface Places {
  readonly blocks: readonly BlockPlace[];
  readonly texts: readonly TextPlace[];
  readonly height: number;
}

const NO_VALUES = {};
const NOWHERE: Places = { blocks: [], texts: [], height: 0 };
const nothing = (): void => undefined;

/** In its frame a message stands where it is put, not where it would lie over a page, and moves nothing. */
const STILL = new Map([
  ['position', 'relative'],
  ['inset', 'auto'],
  ['margin', '0 auto'],
  ['max-height', 'none'],
  ['max-width', '100%'],
  ['animation', 'none'],
  ['translate', 'none'],
  ['z-index', '0'],
]);

/** A bubble and a thread are no wider than their frame. */
const FIT = '.chat,.chat>*{max-width:100%!important;min-width:0!important}';

/** Lets what is drawn stand where it is put. Returns what it consists of. */
export function standStill(drawn: HTMLElement): HTMLElement[] {
  const boxes = [...(drawn.shadowRoot?.children ?? [])].filter((one) => one instanceof HTMLElement);
  for (const box of boxes) for (const [name, value] of STILL) box.style.setProperty(name, value, 'important');
  // Into the sheet that is there: from a second one the renderer would take it that it has brought all of its own.
  const [sheet] = drawn.shadowRoot?.adoptedStyleSheets ?? [];
  sheet?.insertRule(FIT, sheet.cssRules.length);
  return boxes;
}

/** Lets a pop-up come once as visitors see it come, unless whoever looks wants less motion; it stands still again after. */
export function playEntrance(drawn: HTMLElement): void {
  const moving = ['animation', 'translate'];
  for (const box of drawn.shadowRoot?.querySelectorAll<HTMLElement>('.popup') ?? []) {
    for (const name of moving) box.style.removeProperty(name);
    box.addEventListener(
      'animationend',
      () => {
        for (const name of moving) box.style.setProperty(name, 'none', 'important');
      },
      { once: true },
    );
  }
}

/** What the renderer needs where nothing is recorded, sent or led to. */
export const IN_STUDIO: Omit<Parameters<ShowFlow>[2], 'values' | 'preview'> = {
  drawExtra,
  extraStyle,
  placeStyle,
  atForm,
  loadChat: () => Promise.resolve({ drawChat }),
  firstSeen: () => Date.now(),
  onOutcome: nothing,
  onStep: nothing,
  onSend: nothing,
  onAct: nothing,
  onPlace: nothing,
  onEnd: nothing,
  now: () => Date.now(),
  guard: (_entryPoint, run) => run,
};

/** Draws a message by the page script's own renderer into `stage`, and finds where its blocks and texts have come to stand. `zoom`: how large the stage is shown; `values`: what is put into texts. */
export function useDrawn(
  stage: RefObject<HTMLElement | null>,
  message: Message,
  { zoom, values = NO_VALUES }: { zoom: number; values?: Readonly<Record<string, string>> },
): Places {
  const [places, setPlaces] = useState<Places>(NOWHERE);
  const host = useRef<HTMLElement>(undefined);
  const entrance = message.format === 'popup' ? (message.entrance ?? 'rise') : undefined;
  const came = useRef(entrance);
  useLayoutEffect(() => {
    const around = stage.current;
    if (!around) return undefined;
    return showFlow({ start: message.id, messages: [message] }, message.id, {
      values,
      ...IN_STUDIO,
      preview: (drawn) => {
        // Whatever is pressed here is the studio's.
        drawn.removeAttribute('data-crindle');
        drawn.setAttribute('data-drawn', message.id);
        around.replaceChildren(drawn);
        for (const box of standStill(drawn)) box.inert = true;
        host.current = drawn;
      },
    });
  }, [stage, message, values]);

  useEffect(() => {
    const around = stage.current;
    if (!around) return undefined;
    const measure = (): void => {
      const root = host.current?.shadowRoot;
      if (!root) return;
      const next = placesIn(around, root, message, zoom);
      setPlaces((before) => shared(before, next));
    };
    measure();
    // Another way to come is seen as it is picked.
    if (came.current !== entrance && host.current) playEntrance(host.current);
    came.current = entrance;
    const onSize = new ResizeObserver(measure);
    onSize.observe(around);
    // A conversation is drawn a little later.
    const onChange = new MutationObserver(measure);
    onChange.observe(around, { childList: true });
    if (host.current?.shadowRoot) onChange.observe(host.current.shadowRoot, { childList: true, subtree: true });
    return () => {
      onSize.disconnect();
      onChange.disconnect();
    };
  }, [stage, message, values, zoom, entrance]);
  return places;
}

/** What has not changed stays the same object, so that it is not drawn anew. */
function shared(before: Places, next: Places): Places {
  const same = <T>(old: T | undefined, one: T): T => (old !== undefined && JSON.stringify(old) === JSON.stringify(one) ? old : one);
  const blocks = next.blocks.map((block, index) => same(before.blocks[index], block));
  const isSame = blocks.length === before.blocks.length && blocks.every((block, index) => block === before.blocks[index]);
  return same(before, { ...next, blocks: isSame ? before.blocks : blocks });
}

const SHOWN = [
  'fontSize',
  'fontWeight',
  'lineHeight',
  'letterSpacing',
  'color',
  'paddingTop',
  'paddingRight',
  'paddingBottom',
  'paddingLeft',
  'direction',
] as const;

function placesIn(stage: HTMLElement, root: ShadowRoot, message: Message, zoom: number): Places {
  const around = stage.getBoundingClientRect();
  const rectOf = (element: HTMLElement): Rect => {
    const { left, top, width, height } = element.getBoundingClientRect();
    const round = (value: number): number => Math.round(value / zoom);
    return { left: round(left - around.left), top: round(top - around.top), width: round(width), height: round(height) };
  };
  const { blocks, texts } = drawnOf(message, root);
  const placeOf = ({ path, label, element, most, hasLines = false }: (typeof texts)[number]): TextPlace => {
    const computed = getComputedStyle(element);
    return {
      path,
      label,
      most,
      hasLines,
      rect: rectOf(element),
      style: {
        ...Object.fromEntries(SHOWN.map((name) => [name, computed[name]])),
        fontFamily: computed.fontFamily,
        textAlign: computed.textAlign === 'start' ? 'start' : computed.textAlign,
        background: backgroundOf(element),
      },
    };
  };
  return {
    blocks: blocks.map(({ path, block, element, texts: own }) => ({ path, block, rect: rectOf(element), texts: own.map(placeOf) })),
    texts: texts.map(placeOf),
    height: Math.round(around.height / zoom),
  };
}

/** Of the nearest thing around that has one. */
function backgroundOf(element: Element | null): string {
  for (let one = element; one; one = one.parentElement) {
    const { backgroundColor } = getComputedStyle(one);
    if (backgroundColor !== 'rgba(0, 0, 0, 0)' && backgroundColor !== 'transparent') return backgroundColor;
  }
  return '#fff';
}

/** Where lines begin, from the top of the frame, by the path of each link: beside what starts it, and apart where several stand side by side. */
export function anchorsOf(places: Places, links: readonly { readonly path: Path }[]): Map<string, number> {
  const wanted = links.map(({ path }) => ({ key: pathKey(path), y: middleOf(places, path) ?? places.height / 2 }));
  const anchors = new Map<string, number>();
  let last = -Infinity;
  // Those at one height stay in the order in which they are read.
  for (const { key, y } of wanted.toSorted((a, b) => a.y - b.y)) {
    last = Math.max(y, last + APART);
    anchors.set(key, last);
  }
  return anchors;
}

/** Of two lines that begin side by side. */
const APART = 20;

function middleOf({ blocks, texts }: Places, path: Path): number | undefined {
  const owner = pathKey(path.slice(0, -1));
  const all = [...texts, ...blocks.flatMap((block) => block.texts)];
  const text = all.find((one) => pathKey(one.path.slice(0, -1)) === owner && one.path.at(-1) !== 'question');
  const rect = text?.rect ?? blocks.find((block) => pathKey(block.path) === owner)?.rect;
  return rect && rect.top + rect.height / 2;
}
