'use client';

import { useId, useState } from 'react';

/** Of a field for words, at most so many letters. */
const MOST = 2000;

/**
 * A text that must be of a kind: what is not yet is kept in the field with what was met and what fits beside it, and goes no further, so that
 * all else can be saved.
 */
export function CheckedText({
  label,
  value,
  isGood,
  fits,
  placeholder,
  most = MOST,
  className = 'min-w-48 flex-1',
  onChange,
}: {
  label: string;
  value: string;
  isGood: (text: string) => boolean;
  /** What fits, to end a sentence with: "an address begins with / or https://". */
  fits: string;
  placeholder?: string;
  most?: number;
  className?: string;
  onChange: (value: string) => void;
}) {
  const [typed, setTyped] = useState<{ text: string; over: string }>();
  // Changed elsewhere meanwhile, by undo or by somebody else: that holds.
  const text = typed?.over === value ? typed.text : value;
  const isWrong = !isGood(text);
  const id = useId();
  return (
    <span className={`inline-flex flex-col ${className}`}>
      <input
        aria-label={label}
        aria-invalid={isWrong}
        aria-describedby={isWrong ? id : undefined}
        className="field min-w-0"
        value={text}
        placeholder={placeholder}
        maxLength={most}
        onChange={({ target }) => {
          const next = target.value;
          setTyped(isGood(next) ? undefined : { text: next, over: value });
          if (isGood(next)) onChange(next);
        }}
      />
      {isWrong && (
        <span id={id} role="alert" className="text-xs text-danger">
          {text === '' ? `Not saved while it is empty: ${fits}` : `Not saved: “${text.slice(0, 60)}”; ${fits}`}
        </span>
      )}
    </span>
  );
}
