'use client';

import type { RefObject } from 'react';
import { useEffect, useState } from 'react';
import type { Board } from './board';

/** Messages from which on one loses sight of the whole. */
export const OVERVIEW_FROM = 8;
const WIDTH = 180;
const HEIGHT = 120;

/** The whole board, small: what of it is in sight, and the way to each message. */
export function Overview({
  board,
  ids,
  zoom,
  around,
}: {
  board: Board;
  ids: readonly string[];
  zoom: number;
  /** What the board is scrolled in. */
  around: RefObject<HTMLElement | null>;
}) {
  const [sight, setSight] = useState({ left: 0, top: 0, width: 0, height: 0 });
  useEffect(() => {
    const element = around.current;
    if (!element) return undefined;
    const tell = (): void =>
      setSight({ left: element.scrollLeft, top: element.scrollTop, width: element.clientWidth, height: element.clientHeight });
    tell();
    element.addEventListener('scroll', tell, { passive: true });
    const onSize = new ResizeObserver(tell);
    onSize.observe(element);
    return () => {
      element.removeEventListener('scroll', tell);
      onSize.disconnect();
    };
  }, [around]);
  const scale = Math.min(WIDTH / board.width, HEIGHT / board.height);
  const goTo = (id: string): void => {
    const spot = board.spots.get(id);
    around.current?.scrollTo({ left: (spot?.x ?? 0) * zoom - 24, top: (spot?.y ?? 0) * zoom - 24, behavior: 'smooth' });
    around.current?.querySelector<HTMLElement>(`[aria-label="Name of the message ${id}"]`)?.focus({ preventScroll: true });
  };
  return (
    <nav
      aria-label="All messages"
      className="relative border border-line bg-paper"
      style={{ width: board.width * scale, height: board.height * scale }}
    >
      {ids.map((id) => {
        const spot = board.spots.get(id);
        return (
          spot && (
            <button
              key={id}
              aria-label={`Go to ${id}`}
              title={id}
              className="absolute border border-edge bg-line hover:bg-pine focus:bg-pine"
              style={{ left: spot.x * scale, top: spot.y * scale, width: spot.width * scale, height: spot.height * scale }}
              onClick={() => goTo(id)}
            />
          )
        );
      })}
      <span
        aria-hidden="true"
        className="pointer-events-none absolute border-2 border-pine"
        style={{
          left: (sight.left / zoom) * scale,
          top: (sight.top / zoom) * scale,
          width: Math.min(board.width, sight.width / zoom) * scale,
          height: Math.min(board.height, sight.height / zoom) * scale,
        }}
      />
    </nav>
  );
}
