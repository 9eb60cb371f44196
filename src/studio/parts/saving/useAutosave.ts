import { useEffect, useRef, useState } from 'react';
import type { Answered } from '../net/send';

const PAUSE_MS = 700;

export type SaveState =
  | { readonly kind: 'saved'; readonly at: number | undefined }
  | { readonly kind: 'waiting' }
  | { readonly kind: 'saving' }
  | { readonly kind: 'failed'; readonly message: string; readonly code: string };

/**
 * Saves a draft a moment after the last change, one request at a time, and again what changed meanwhile. `isComing`
 * tells that a change is under way that `draft` does not have yet, `isPart` that there is more, which cannot be saved as it is. A failed save is tried again with the next change, or by `retry`.
 */
export function useAutosave<T>({
  draft,
  isComing = false,
  isPart = false,
  save,
}: {
  draft: T;
  isComing?: boolean;
  isPart?: boolean;
  save: (draft: T) => Promise<Answered<unknown>>;
}): {
  state: SaveState;
  retry: () => void;
} {
  const [state, setState] = useState<Exclude<SaveState, { kind: 'waiting' }>>({ kind: 'saved', at: undefined });
  const [attempt, setAttempt] = useState(0);
  const [saved, setSaved] = useState(draft);
  const [tried, setTried] = useState(draft);
  const isSaving = useRef(false);
  const latest = useRef(save);
  useEffect(() => {
    latest.current = save;
  });
  useEffect(() => {
    if (draft === saved || isSaving.current) return;
    const timer = setTimeout(() => {
      isSaving.current = true;
      setState({ kind: 'saving' });
      setTried(draft);
      void latest.current(draft).then((result) => {
        isSaving.current = false;
        if (result.ok) {
          setSaved(draft);
          setState({ kind: 'saved', at: Date.now() });
          setAttempt((count) => count + 1); // What was typed meanwhile is saved next.
        } else {
          setState({ kind: 'failed', message: result.message, code: result.code });
        }
      });
    }, PAUSE_MS);
    return () => clearTimeout(timer);
  }, [draft, saved, attempt]);
  useEffect(() => {
    const warn = (event: BeforeUnloadEvent): void => {
      if (draft !== saved || isComing || isPart) event.preventDefault();
    };
    addEventListener('beforeunload', warn);
    return () => removeEventListener('beforeunload', warn);
  }, [draft, saved, isComing, isPart]);
  // What has just been typed is not saved, not even for the moment until its saving is begun.
  const isWaiting =
    (state.kind === 'saved' && (draft !== saved || isComing)) ||
    (state.kind === 'failed' && state.code !== 'revision.outdated' && draft !== tried);
  return { state: isWaiting ? { kind: 'waiting' } : state, retry: () => setAttempt((count) => count + 1) };
}
