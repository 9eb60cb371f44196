'use client';

import { useMemo, useRef } from 'react';
import type { Brand } from '@/core/brand/brand';
import { branded } from '@/core/brand/brand';
import { hexSchema } from '@/core/messages/bounds';
import type { MessageOf } from '@/core/messages/message';
import { useDrawn } from '../messages/useDrawn';

const SAMPLE: MessageOf<'popup'> = {
  id: 'sample',
  format: 'popup',
  closes: { button: true, dim: true, escape: true },
  blocks: [
    { kind: 'heading', text: 'How your messages look' },
    { kind: 'text', text: 'With the colour of buttons and marks, the corners and the font from here.' },
    {
      kind: 'form',
      fields: [
        { kind: 'email', name: 'email', label: 'Your email', required: true },
        { kind: 'consent', name: 'news', label: 'Write to me once a month', required: false },
      ],
      submit: 'Send',
      thanks: 'Thank you.',
    },
  ],
};

/** A message in the brand as it is being written, drawn by the page script's renderer. */
export function BrandSample({ brand }: { brand: Brand }) {
  const stage = useRef<HTMLDivElement>(null);
  const message = useMemo(() => {
    const { logo, colour } = brand;
    // Half a colour is none yet.
    const looks = hexSchema().safeParse(colour).success ? brand : { ...brand, colour: undefined };
    return branded({ ...SAMPLE, blocks: [...(logo ? [{ kind: 'picture' as const, ...logo }] : []), ...SAMPLE.blocks] }, looks);
  }, [brand]);
  useDrawn(stage, message, { zoom: 1 });
  return (
    <div
      ref={stage}
      role="img"
      aria-label="A message in this brand"
      className="grid grid-cols-[minmax(0,1fr)] overflow-hidden rounded bg-[#dde2dc] p-6"
    />
  );
}
