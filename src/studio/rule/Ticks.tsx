'use client';

/** Any of a few values. */
export function Ticks<T extends string>({
  label,
  options,
  value,
  onChange,
  words,
}: {
  label: string;
  options: readonly T[];
  value: readonly T[];
  onChange: (value: T[]) => void;
  /** What the values are called, where they are not words themselves. */
  words?: Readonly<Record<string, string>>;
}) {
  return (
    <span role="group" aria-label={label} className="inline-flex flex-wrap gap-x-3 gap-y-1">
      {options.map((option) => (
        <label key={option} className="inline-flex items-center gap-1.5">
          <input
            type="checkbox"
            className="h-4 w-4 accent-(--people)"
            checked={value.includes(option)}
            onChange={(event) => onChange(event.target.checked ? [...value, option] : value.filter((one) => one !== option))}
          />
          {words?.[option] ?? option}
        </label>
      ))}
    </span>
  );
}
