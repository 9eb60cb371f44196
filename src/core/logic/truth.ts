/** True, false, or `null` where the input a rule needs is not available. Unknown is never silently false. */
export type Truth = boolean | null;

export function and(values: readonly Truth[]): Truth {
  if (values.includes(false)) return false;
  return values.includes(null) ? null : true;
}

export function or(values: readonly Truth[]): Truth {
  if (values.includes(true)) return true;
  return values.includes(null) ? null : false;
}

export function not(value: Truth): Truth {
  return value === null ? null : !value;
}

/** Truths in arrays of bytes. */
export const NO = 0;
export const YES = 1;
export const UNKNOWN = 2;

export const byteOf = (truth: Truth): number => (truth === null ? UNKNOWN : truth ? YES : NO);
