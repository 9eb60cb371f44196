import type { ListedThread } from './useConversations';

/** Who writes, as short as it can be said. */
export const nameOf = ({ email, visitor }: Pick<ListedThread, 'email' | 'visitor'>): string => email ?? `visitor ${visitor}`;

/** "0:36", "19:24", "2 h 05", "3 days". */
export function waitWords(ms: number): string {
  const seconds = Math.max(0, Math.floor(ms / 1000));
  if (seconds < 3600) return `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, '0')}`;
  const minutes = Math.floor(seconds / 60);
  if (minutes < 48 * 60) return `${Math.floor(minutes / 60)} h ${String(minutes % 60).padStart(2, '0')}`;
  return `${Math.floor(minutes / (24 * 60))} days`;
}

/** The end of a saved answer that what was typed begins, by its name or its words; undefined where none does. */
export function completionOf(
  typed: string,
  saved: readonly { readonly name: string; readonly text: string }[],
): { name: string; text: string } | undefined {
  const begun = typed.trimStart().toLowerCase();
  if (begun.length < 2) return undefined;
  return (
    saved.find(({ text }) => text.toLowerCase().startsWith(begun) && text.length > typed.length) ??
    saved.find(({ name }) => name.toLowerCase().startsWith(begun))
  );
}
