'use client';

import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import type { ReactNode } from 'react';
import { useEffect, useRef } from 'react';

/** A word of a sentence of settings that opens what it can be. */
export function Phrase({ label, words, children }: { label: string; words: ReactNode; children: (close: () => void) => ReactNode }) {
  return (
    <Popover as="span" className="inline">
      <PopoverButton aria-label={label} className="rounded-sm border-b-2 border-line font-semibold text-ink hover:border-soft">
        {words}
      </PopoverButton>
      <PopoverPanel anchor={{ to: 'bottom start', gap: 6 }} className="z-40 max-w-md sheet p-3 text-sm shadow-lg">
        {({ close }) => <FirstFocused>{children(close)}</FirstFocused>}
      </PopoverPanel>
    </Popover>
  );
}

/** What can be used first gets the focus, and the page stays where it is: a panel is placed only after it has come. */
export function FirstFocused({ className, children }: { className?: string; children: ReactNode }) {
  const ref = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const frame = requestAnimationFrame(() =>
      ref.current?.querySelector<HTMLElement>('input, select, textarea, button, a[href]')?.focus({ preventScroll: true }),
    );
    return () => cancelAnimationFrame(frame);
  }, []);
  return (
    <div ref={ref} className={className}>
      {children}
    </div>
  );
}

/** One of several words. */
export function OneOf<T extends string>({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: T;
  options: readonly (readonly [T, string])[];
  onChange: (value: T) => void;
}) {
  return (
    <Phrase label={label} words={options.find(([one]) => one === value)?.[1] ?? value}>
      {(close) => (
        <ul className="grid gap-0.5">
          {options.map(([one, words]) => (
            <li key={one}>
              <button
                aria-pressed={one === value}
                className="block w-full rounded px-3 py-1 text-start hover:bg-bone aria-pressed:font-semibold aria-pressed:text-pine"
                onClick={() => {
                  onChange(one);
                  close();
                }}
              >
                {words}
              </button>
            </li>
          ))}
        </ul>
      )}
    </Phrase>
  );
}
