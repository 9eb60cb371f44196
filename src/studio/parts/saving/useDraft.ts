import { useCallback, useEffect, useReducer } from 'react';

/** Changes that follow each other this closely are undone together. */
const TOGETHER_MS = 600;
const MOST_STEPS = 200;

interface History<T> {
  readonly past: readonly T[];
  readonly now: T;
  readonly future: readonly T[];
  readonly changedAt: number;
}
/** What it is to be, or what is to be made of it as it is by then. */
export type Change<T> = T | ((now: T) => T);
type Step<T> = { readonly kind: 'set'; readonly value: Change<T>; readonly at: number } | { readonly kind: 'undo' | 'redo' };

export function stepDraft<T>(history: History<T>, step: Step<T>): History<T> {
  const { past, now, future, changedAt } = history;
  if (step.kind === 'set') {
    const next = typeof step.value === 'function' ? (step.value as (now: T) => T)(now) : step.value;
    if (next === now) return history;
    const isTogether = step.at - changedAt < TOGETHER_MS && past.length > 0;
    return { past: isTogether ? past : [...past.slice(1 - MOST_STEPS), now], now: next, future: [], changedAt: step.at };
  }
  const from = step.kind === 'undo' ? past.at(-1) : future[0];
  if (from === undefined) return history;
  return step.kind === 'undo'
    ? { past: past.slice(0, -1), now: from, future: [now, ...future], changedAt: 0 }
    : { past: [...past, now], now: from, future: future.slice(1), changedAt: 0 };
}

/** A draft that can be undone and redone as a whole: Ctrl/⌘ Z and Ctrl/⌘ Shift Z (or Y), wherever the focus is. */
export function useDraft<T extends object>(initial: T) {
  const [{ now, past, future }, dispatch] = useReducer(stepDraft<T>, { past: [], now: initial, future: [], changedAt: 0 });
  const set = useCallback((value: Change<T>) => dispatch({ kind: 'set', value, at: Date.now() }), []);
  const undo = useCallback(() => dispatch({ kind: 'undo' }), []);
  const redo = useCallback(() => dispatch({ kind: 'redo' }), []);
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (!(event.ctrlKey || event.metaKey) || event.altKey) return;
      const key = event.key.toLowerCase();
      if (key !== 'z' && key !== 'y') return;
      event.preventDefault();
      dispatch({ kind: key === 'y' || event.shiftKey ? 'redo' : 'undo' });
    };
    addEventListener('keydown', onKey);
    return () => removeEventListener('keydown', onKey);
  }, []);
  return { draft: now, setDraft: set, undo, redo, canUndo: past.length > 0, canRedo: future.length > 0 };
}
