'use client';

/** One of a few words that stand side by side. */
export function Pick<T extends string>({
  label,
  value,
  options,
  words,
  onChange,
}: {
  label: string;
  value: T;
  options: readonly T[];
  words?: Readonly<Record<T, string>>;
  onChange: (value: T) => void;
}) {
  return (
    <div role="group" aria-label={label} className="flex items-center gap-2 text-soft">
      {label}
      <span className="flex overflow-hidden rounded border border-line bg-paper">
        {options.map((one) => (
          <button
            key={one}
            aria-pressed={one === value}
            className="px-3 py-1 text-ink aria-pressed:bg-ink aria-pressed:text-paper"
            onClick={() => onChange(one)}
          >
            {words?.[one] ?? one}
          </button>
        ))}
      </span>
    </div>
  );
}
