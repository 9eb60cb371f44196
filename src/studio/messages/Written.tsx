'use client';

import { memo, useState } from 'react';
import { toast } from 'sonner';
import type { Path } from '@/core/flows/edit';
import { valueAt, withValue } from '@/core/flows/edit';
import type { Block } from '@/core/messages/block';
import type { Message } from '@/core/messages/message';
import type { Format } from '@/core/messages/richText';
import { formatted } from '@/core/messages/richText';
import type { CaretRef, Edit } from './caret';
import type { TextPlace } from './useDrawn';

const KEYS = { b: { bold: true }, i: { italic: true } } as const;

/** A text that is written where it stands: unseen until somebody is in it, and then just as it is drawn. */
export const Written = memo(function Written({
  place,
  value,
  id,
  caretRef,
  edit,
  write,
}: {
  place: TextPlace;
  value: unknown;
  /** Of the message. */
  id: string;
  caretRef: CaretRef;
  edit: Edit;
  write: Edit;
}) {
  const { path, label, most, hasLines, rect, style } = place;
  /** What the message does not have yet: what is typed is seen before all that hangs on it is drawn. */
  const [typed, setTyped] = useState<string>();
  if (typed !== undefined && typed === value) setTyped(undefined);
  if (typeof value !== 'string') return null;
  return (
    <textarea
      aria-label={`${label} of ${id}`}
      className="written absolute resize-none overflow-hidden border-0 outline-offset-2 focus:z-10"
      style={{ ...style, left: rect.left, top: rect.top, width: rect.width + 2, height: rect.height + 2, whiteSpace: 'pre-wrap' }}
      maxLength={most}
      value={typed ?? value}
      rows={1}
      spellCheck
      onSelect={({ currentTarget: { selectionStart, selectionEnd } }) =>
        (caretRef.current.last = { path, from: selectionStart, to: selectionEnd })
      }
      onKeyDown={(event) => {
        if (event.key === 'Escape') event.currentTarget.blur();
        // Undone or redone: the message has the word again.
        if ((event.ctrlKey || event.metaKey) && /^[zy]$/i.test(event.key)) setTyped(undefined);
        if (event.key === 'Enter' && !hasLines) event.preventDefault();
        const format = (event.ctrlKey || event.metaKey) && KEYS[event.key as keyof typeof KEYS];
        if (!format || !hasLines) return;
        event.preventDefault();
        const { selectionStart, selectionEnd, value: written } = event.currentTarget;
        // With the letter that the message may not have yet: what is written in next begins with all of it.
        edit((message) => withFormat(withText(message, path, written), path.slice(0, -1), format, selectionStart, selectionEnd));
      }}
      onPaste={(event) => {
        // Cut off in silence it would be half of what was meant.
        const { value: before, selectionStart, selectionEnd } = event.currentTarget;
        const length = before.length - (selectionEnd - selectionStart) + event.clipboardData.getData('text').length;
        if (length <= most) return;
        event.preventDefault();
        toast.error(tooLong(`${label} of ${id}`, most, length), { id: 'too long' });
      }}
      onBlur={() => setTyped(undefined)}
      onChange={({ target }) => {
        const next = hasLines ? target.value : target.value.replaceAll('\n', ' ');
        setTyped(next);
        write((message) => withText(message, path, next));
      }}
    />
  );
});

/** Where there is still a text to write in. */
const withText = (message: Message, path: Path, text: string): Message =>
  typeof valueAt(message, path) === 'string' ? withValue(message, path, text) : message;

const inWords = (count: number): string => count.toLocaleString('en');
const tooLong = (where: string, most: number, length: number): string =>
  `Not pasted: ${where} holds at most ${inWords(most)} letters, and would have ${inWords(length)}`;

/** A text block becomes one with formatting. */
export const withFormat = (message: Message, path: Path, format: Format, from: number, to: number): Message => {
  const block = valueAt(message, path) as Block | undefined;
  return block?.kind === 'text' ? withValue(message, path, formatted(block, format, from, to)) : message;
};
