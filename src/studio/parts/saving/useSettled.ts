import { useEffect, useState } from 'react';

/** A value once it has stayed the same for some ms: for what is too heavy to follow every keystroke. `ms`: how long, or what says so as it changes. */
export function useSettled<T>(value: T, ms: number | (() => number)): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), typeof ms === 'function' ? ms() : ms);
    return () => clearTimeout(timer);
  }, [value, ms]);
  return settled;
}
