/** What was typed into a conversation and not sent: kept for as long as the tab is open, over reloads, until it is sent or its writer signs out. */
export interface Draft {
  readonly text: string;
  readonly isNote: boolean;
  /** Under which it is sent: the same line sent again, because its answer got lost, is the same. */
  readonly line: string;
}

const keyOf = (thread: string): string => `draft ${thread}`;
const none = (): Draft => ({ text: '', isNote: false, line: crypto.randomUUID() });

export function draftOf(thread: string): Draft {
  const kept = sessionStorage.getItem(keyOf(thread));
  return kept === null ? none() : (JSON.parse(kept) as Draft);
}

/** An empty one is kept no longer. */
export function keepDraft(thread: string, draft: Draft): void {
  if (draft.text === '') sessionStorage.removeItem(keyOf(thread));
  else sessionStorage.setItem(keyOf(thread), JSON.stringify(draft));
}

/** Whoever signs out leaves none behind. */
export function forgetDrafts(): void {
  for (const key of Object.keys(sessionStorage)) if (key.startsWith(keyOf(''))) sessionStorage.removeItem(key);
}
