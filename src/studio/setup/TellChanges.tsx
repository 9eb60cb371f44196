import type { ToldChange } from '@/core/release/words';

/** Changes as sentences: "Packing list is now also on /courses/**; begins at “ask” now." */
export function TellChanges({ changes }: { changes: readonly ToldChange[] }) {
  return (
    <ul className="grid gap-0.5">
      {changes.map(({ campaign, name, words }, index) => (
        <li key={campaign || index}>
          <b>{name}</b> {words.join('; ')}.
        </li>
      ))}
    </ul>
  );
}
