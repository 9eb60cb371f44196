'use client';

import { GripVertical } from 'lucide-react';
import type { CSSProperties, PointerEvent } from 'react';
import { useRef } from 'react';
import type { Point } from './board';

const STEP = 20;
const ARROWS: Readonly<Record<string, Point>> = {
  ArrowLeft: { x: -STEP, y: 0 },
  ArrowRight: { x: STEP, y: 0 },
  ArrowUp: { x: 0, y: -STEP },
  ArrowDown: { x: 0, y: STEP },
};

/** Drags a frame of the board, or moves it by the arrow keys. `zoom`: how large the board is shown. */
export function FrameGrip({ label, zoom, onShift }: { label: string; zoom: number; onShift: (by: Point) => void }) {
  const lastRef = useRef<Point>(undefined);
  return (
    <button
      aria-label={label}
      title="Drag it, or move it by the arrow keys"
      className="cursor-grab touch-none rounded p-0.5 text-soft opacity-60 hover:bg-paper focus:opacity-100 group-hover/frame:opacity-100"
      onKeyDown={(event) => {
        const by = ARROWS[event.key];
        if (!by) return;
        event.preventDefault();
        onShift(by);
      }}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        lastRef.current = { x: event.clientX, y: event.clientY };
      }}
      onPointerMove={({ clientX: x, clientY: y }) => {
        const last = lastRef.current;
        if (!last) return;
        lastRef.current = { x, y };
        onShift({ x: (x - last.x) / zoom, y: (y - last.y) / zoom });
      }}
      onPointerUp={() => (lastRef.current = undefined)}
      onPointerCancel={() => (lastRef.current = undefined)}
    >
      <GripVertical size={14} aria-hidden="true" />
    </button>
  );
}

/** Drags a block to another gap of its message. `onPlace` gets the key of the list and the place in it. */
export function BlockGrip({
  label,
  canGo,
  style,
  onPlace,
}: {
  label: string;
  /** Whether it may stand in the list of this key. */
  canGo: (list: string) => boolean;
  style: CSSProperties;
  onPlace: (list: string, at: number) => void;
}) {
  const targetRef = useRef<HTMLElement>(undefined);
  const mark = (gap: HTMLElement | undefined): void => {
    if (targetRef.current !== gap) targetRef.current?.removeAttribute('data-target');
    gap?.setAttribute('data-target', '');
    targetRef.current = gap;
  };
  const nearest = ({ clientX, clientY, currentTarget }: PointerEvent<HTMLElement>): HTMLElement | undefined => {
    const gaps = [...(currentTarget.closest('[data-frame]')?.querySelectorAll<HTMLElement>('[data-gap]') ?? [])];
    const far = (gap: HTMLElement): number => {
      const { left, right, top, height } = gap.getBoundingClientRect();
      const aside = Math.max(0, left - clientX, clientX - right);
      return Math.hypot(aside, top + height / 2 - clientY);
    };
    return gaps.filter((gap) => canGo(listAndPlace(gap).list)).sort((a, b) => far(a) - far(b))[0];
  };
  return (
    <button
      aria-label={`Drag: ${label}`}
      title="Drag it to another gap"
      // By keys blocks are moved with the tools.
      tabIndex={-1}
      className="board-grip"
      style={style}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        mark(nearest(event));
      }}
      onPointerMove={(event) => event.currentTarget.hasPointerCapture(event.pointerId) && mark(nearest(event))}
      onPointerUp={() => {
        const gap = targetRef.current;
        mark(undefined);
        if (!gap) return;
        const { list, at } = listAndPlace(gap);
        onPlace(list, at);
      }}
      onPointerCancel={() => mark(undefined)}
    >
      <GripVertical size={16} aria-hidden="true" />
    </button>
  );
}

function listAndPlace(gap: HTMLElement): { list: string; at: number } {
  const [list = '', at] = (gap.dataset['gap'] ?? '').split(':');
  return { list, at: Number(at) };
}
