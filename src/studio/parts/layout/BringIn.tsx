'use client';

import { useRouter } from 'next/navigation';
import { useRef } from 'react';
import { toast } from 'sonner';
import type { AnswerTo, RequestName } from '../net/call';
import { callWith } from '../net/call';

/** Brings a JSON file in: what is wrong with it is told, and then nothing of it is kept. */
export function BringIn<K extends RequestName>({
  label,
  accept,
  api,
  words,
  onError,
}: {
  label: string;
  accept: string;
  api: K;
  /** What came in, in words. */
  words: (answer: AnswerTo<K>) => string;
  onError: (message: string | undefined) => void;
}) {
  const router = useRouter();
  const file = useRef<HTMLInputElement>(null);
  async function bringIn(chosen: File | undefined): Promise<void> {
    if (!chosen) return;
    let input: unknown;
    try {
      input = JSON.parse(await chosen.text());
    } catch (cause) {
      return onError(`${chosen.name} is no JSON: ${cause instanceof Error ? cause.message : 'unreadable'}`);
    }
    const result = await callWith(api, input);
    if (!result.ok) return onError(`Nothing of ${chosen.name} was brought in. ${result.message}`);
    onError(undefined);
    toast.success(words(result.value));
    router.refresh();
  }
  return (
    <>
      <input
        ref={file}
        type="file"
        accept={accept}
        className="sr-only"
        tabIndex={-1}
        aria-label={`${label}, file`}
        onChange={(event) => {
          void bringIn(event.target.files?.[0]);
          event.target.value = '';
        }}
      />
      <button className="act-quiet" onClick={() => file.current?.click()}>
        {label}
      </button>
    </>
  );
}
