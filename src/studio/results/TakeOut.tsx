'use client';

import type { RefObject } from 'react';
import { toast } from 'sonner';
import { savePng, saveSvg } from './takeOut';

/** Saves the drawing inside an element, as lines or as a picture. */
export function TakeOut({ from, name }: { from: RefObject<HTMLElement | null>; name: string }) {
  const withDrawing = (work: (drawing: SVGSVGElement) => Promise<void> | void): void => {
    const drawing = from.current?.querySelector('svg');
    if (!drawing) return;
    Promise.resolve(work(drawing)).catch((cause: unknown) => toast.error(cause instanceof Error ? cause.message : String(cause)));
  };
  const link = 'text-soft underline decoration-line underline-offset-4 hover:text-ink print:hidden';
  return (
    <>
      <button className={link} aria-label={`${name} as SVG`} onClick={() => withDrawing((drawing) => saveSvg(drawing, name))}>
        SVG
      </button>
      <button className={link} aria-label={`${name} as PNG`} onClick={() => withDrawing((drawing) => savePng(drawing, name))}>
        PNG
      </button>
    </>
  );
}
