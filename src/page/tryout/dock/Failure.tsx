/** @jsxImportSource preact */

/** What went wrong, in words; nothing where nothing did. */
export function Failure({ words }: { words: string | undefined }) {
  return words ? (
    <p class="alert" role="alert" style={{ padding: '6px 18px' }}>
      {words}
    </p>
  ) : null;
}
