'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { toast } from 'sonner';
import type { LinePicture } from '@/core/conversations/line';
import { LONGEST_LINE } from '@/core/conversations/line';
import type { Given } from '../parts/net/call';
import { addressOf, call, callWithFile } from '../parts/net/call';
import type { Draft } from './drafts';
import { draftOf, keepDraft } from './drafts';
import { completionOf } from './words';

/** That somebody is writing is told so often, while they do. */
const TELL_MS = 3_000;

/** What is typed stays until it is sent, whatever is opened meanwhile; Tab completes a saved answer. */
export function Composer({
  thread,
  onSend,
}: {
  thread: string;
  onSend: (body: Given<'POST /api/conversations/{id}'>['body']) => Promise<boolean>;
}) {
  const known = useQueryClient();
  const [draft, setDraft] = useState(() => draftOf(thread));
  const { text, isNote, line } = draft;
  const change = (part: Partial<Draft>): void => {
    const next = { ...draft, ...part };
    keepDraft(thread, next);
    setDraft(next);
  };
  const setText = (typed: string): void => change({ text: typed });
  const [isSending, setIsSending] = useState(false);
  const { data: saved = [] } = useQuery({
    queryKey: ['saved answers'],
    queryFn: async () => {
      const result = await call('GET /api/saved-answers');
      return result.ok ? result.value.answers : [];
    },
  });
  const [picture, setPicture] = useState<LinePicture>();
  const [isTaking, setIsTaking] = useState(false);
  const toldAt = useRef(0);
  const take = async (file: File | null | undefined): Promise<void> => {
    if (!file) return;
    setIsTaking(true);
    const result = await callWithFile('POST /api/conversations/{id}/pictures', { params: { id: thread }, file });
    setIsTaking(false);
    if (!result.ok) return void toast.error(`${file.name}: ${result.message}`);
    setPicture(result.value);
    change({ isNote: false, ...(text.trim() === '' ? { text: file.name.replace(/[.]\w+$/, '').slice(0, 100) } : {}) });
  };
  /** The visitor sees that somebody is; nothing of what is typed. */
  const tellWriting = (): void => {
    const now = performance.now();
    if (isNote || now - toldAt.current < TELL_MS) return;
    toldAt.current = now;
    void call('POST /api/conversations/{id}', { params: { id: thread }, body: { does: 'writing' } });
  };
  const completion = isNote ? undefined : completionOf(text, saved);
  const submit = async (): Promise<void> => {
    const said = text.trim();
    if (!said || isSending) return;
    setIsSending(true);
    const isSent = await onSend(
      isNote
        ? { does: 'note', id: line, text: said }
        : { does: 'answer', id: line, text: said, ...(picture ? { picture: picture.id } : {}) },
    );
    setIsSending(false);
    if (!isSent) return;
    setPicture(undefined);
    change({ text: '', isNote: false, line: crypto.randomUUID() });
  };
  const keep = async (): Promise<void> => {
    const name = text.trim().split(/\s+/).slice(0, 4).join(' ').slice(0, 60);
    const result = await call('POST /api/saved-answers', { body: { name, text: text.trim() } });
    if (!result.ok) return void toast.error(result.message);
    toast(`Kept as “${name}”: begin it, then Tab`);
    await known.invalidateQueries({ queryKey: ['saved answers'] });
  };
  return (
    <form
      className="grid gap-2 border-t border-line p-4"
      aria-label={isNote ? 'A note that the visitor never sees' : 'Answer'}
      onSubmit={(event) => {
        event.preventDefault();
        void submit();
      }}
    >
      <textarea
        key={thread}
        className={`field min-h-14 ${isNote ? 'bg-bone' : ''}`}
        aria-label={isNote ? 'Note' : 'Your answer'}
        placeholder={isNote ? 'a note for the team alone' : 'write …'}
        maxLength={LONGEST_LINE}
        value={text}
        onChange={({ target }) => {
          setText(target.value);
          tellWriting();
        }}
        onPaste={({ clipboardData }) => void take([...clipboardData.files].find(({ type }) => type.startsWith('image/')))}
        onKeyDown={(event) => {
          if (event.key === 'Tab' && !event.shiftKey && completion) {
            event.preventDefault();
            setText(completion.text);
          }
          if (event.key === 'Enter' && !event.shiftKey && !event.nativeEvent.isComposing) {
            event.preventDefault();
            void submit();
          }
        }}
      />
      <p role="status" className="min-h-5 truncate text-soft">
        {completion && (
          <>
            Tab: “{completion.name}” — {completion.text}
          </>
        )}
      </p>
      {picture && (
        <p className="flex items-center gap-3">
          <img
            src={addressOf('GET /api/conversations/{id}/pictures/{picture}', { params: { id: thread, picture: picture.id } })}
            alt="The picture that goes with it"
            width={picture.width}
            height={picture.height}
            className="max-h-16 w-auto rounded border border-line"
          />
          <button type="button" className="act-quiet" onClick={() => setPicture(undefined)}>
            Without the picture
          </button>
        </p>
      )}
      <p className="flex flex-wrap items-center gap-3">
        <button className="act" disabled={isSending || text.trim() === ''}>
          {isSending ? 'Sending …' : isNote ? 'Keep the note' : 'Send'}
        </button>
        <label className="flex items-center gap-2">
          <input type="checkbox" checked={isNote} onChange={({ target }) => change({ isNote: target.checked })} />a note for the team alone
        </label>
        {!isNote && (
          <label className="act-quiet cursor-pointer focus-within:outline-2 focus-within:outline-pine">
            {isTaking ? 'Taking it in …' : 'A picture'}
            <input
              type="file"
              accept="image/*"
              className="sr-only"
              disabled={isTaking}
              onChange={({ target }) => {
                void take(target.files?.[0]);
                target.value = '';
              }}
            />
          </label>
        )}
        {!isNote && text.trim().length > 20 && !saved.some((one) => one.text === text.trim()) && (
          <button
            type="button"
            className="ms-auto text-soft underline decoration-line underline-offset-4 hover:text-ink"
            onClick={() => void keep()}
          >
            keep it as a saved answer
          </button>
        )}
        <span className="text-soft">Enter sends, Shift and Enter begin a new line</span>
      </p>
    </form>
  );
}
