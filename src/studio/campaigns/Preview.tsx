'use client';

import { useEffect, useRef } from 'react';
import type { Flow } from '@/core/flows/flow';
import { drawChat } from '@/page/chat/chat';
import { drawExtra, extraStyle } from '@/page/show/extras';
import { showFlow } from '@/page/show/show';

const nothing = (): void => undefined;

/** In its frame a message stands where it is put, not where it would lie over a page, and moves nothing. */
const STILL = new Map([
  ['position', 'relative'],
  ['inset', 'auto'],
  ['margin', '0 auto'],
  ['max-height', 'none'],
  ['animation', 'none'],
  ['translate', 'none'],
  ['z-index', '0'],
]);

function put(host: HTMLElement, frame: HTMLElement | null): void {
  frame?.replaceChildren(host);
  for (const box of host.shadowRoot?.children ?? [])
    if (box instanceof HTMLElement) for (const [name, value] of STILL) box.style.setProperty(name, value, 'important');
}

/** A flow from one of its messages on, drawn by the page script's own renderer, so that what stands here is what visitors get. */
export function Preview({ flow, start }: { flow: Flow; start: string }) {
  const frame = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (!frame.current) return undefined;
    return showFlow(flow, start, {
      values: {},
      drawExtra,
      extraStyle,
      loadChat: () => Promise.resolve({ drawChat }),
      firstSeen: () => Date.now(),
      onOutcome: nothing,
      onSend: nothing,
      onAct: nothing,
      onPlace: nothing,
      onEnd: nothing,
      guard: (_entryPoint, run) => run,
      preview: (host) => put(host, frame.current),
    });
  }, [flow, start]);
  return (
    <section aria-label="Preview" className="sheet self-start overflow-hidden lg:sticky lg:top-16">
      <h3 className="border-b border-line px-4 py-2 font-sans text-xs font-medium text-soft">Preview, drawn as on the site</h3>
      <div className="relative grid min-h-96 place-items-center bg-[#c9cfca] p-6 dark:bg-[#0e1311]">
        <div ref={frame} className="w-full" />
      </div>
    </section>
  );
}
