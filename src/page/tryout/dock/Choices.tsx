/** @jsxImportSource preact */
/** One of a few; the chosen one is marked. */
export function Few<T>({
  list,
  chosen,
  onPick,
}: {
  list: readonly (readonly [label: string, value: T])[];
  chosen: T;
  onPick: (value: T) => void;
}) {
  return (
    <ul>
      {list.map(([label, value]) => (
        <li key={label}>
          <button type="button" class="choice" aria-pressed={value === chosen} onClick={() => onPick(value)}>
            {label}
          </button>
        </li>
      ))}
    </ul>
  );
}

/** Back to what it is without anything pretended. */
export function Back({ label, onBack }: { label: string; onBack: () => void }) {
  return (
    <button type="button" class="choice" onClick={onBack}>
      {label}
    </button>
  );
}
