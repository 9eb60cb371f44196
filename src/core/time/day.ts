/** Days are exact, whatever the clocks of a zone do. */
export const DAY_MS = 86_400_000;
