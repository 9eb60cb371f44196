'use client';

import { useEffect, useRef } from 'react';
import type { Message } from '@/core/messages/message';
import { showMessage } from '@/page/show/show';

const NOTHING = { onClick: () => undefined, onSend: () => undefined, onClose: () => undefined };

/** The message drawn by the page script's own renderer, so that what stands here is what visitors get. */
export function Preview({ message }: { message: Message }) {
  const frame = useRef<HTMLDivElement>(null);
  useEffect(() => (frame.current ? showMessage(message, NOTHING, frame.current) : undefined), [message]);
  return (
    <section aria-label="Preview" className="sheet self-start overflow-hidden lg:sticky lg:top-16">
      <h3 className="border-b border-line px-4 py-2 font-sans text-xs font-medium text-soft">Preview, drawn as on the site</h3>
      <div className="relative grid min-h-96 place-items-center bg-[#c9cfca] p-6 dark:bg-[#0e1311]">
        <div ref={frame} className="w-full" />
      </div>
    </section>
  );
}
