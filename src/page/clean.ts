export type Plain = string | number | boolean | null;

const [MOST_KEYS, MOST_LETTERS, MOST_OF_A_NAME] = [50, 2000, 200];

/** What a page hands over, cut to what the collector takes: a value that cannot be told is left out, not the whole report. */
export function cleanValues(values: unknown): Record<string, Plain> {
  const clean: Record<string, Plain> = {};
  if (typeof values !== 'object' || values === null) return clean;
  for (const [key, value] of Object.entries(values).slice(0, MOST_KEYS)) {
    if (typeof value === 'string') clean[key.slice(0, MOST_OF_A_NAME)] = value.slice(0, MOST_LETTERS);
    else if (typeof value === 'boolean' || value === null || Number.isFinite(value)) clean[key.slice(0, MOST_OF_A_NAME)] = value as Plain;
  }
  delete clean[''];
  return clean;
}

export const cleanName = (name: unknown): string => String(name).slice(0, MOST_OF_A_NAME);
