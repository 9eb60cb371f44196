/** What was typed with commas between: trimmed, without empty ones. */
export const commaList = (text: string): string[] =>
  text
    .split(',')
    .map((one) => one.trim())
    .filter(Boolean);
