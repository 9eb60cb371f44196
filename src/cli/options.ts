/** A mistake in how a command was called: told without a stack trace. */
export class Usage extends Error {}

/** `--name value` pairs and flags, and what stands between them. Unknown options are refused. */
export function readOptions(
  words: readonly string[],
  { values, flags = [] }: { values: readonly string[]; flags?: readonly string[] },
): { option: (name: string) => string | undefined; has: (name: string) => boolean; rest: string[] } {
  const found = new Map<string, string>();
  const rest: string[] = [];
  for (let index = 0; index < words.length; index++) {
    const word = words[index] as string;
    if (flags.includes(word)) found.set(word, '');
    else if (values.includes(word)) {
      const value = words[++index];
      if (value === undefined) throw new Usage(`${word} wants a value`);
      found.set(word, value);
    } else if (word.startsWith('--')) throw new Usage(`There is no option ${word}; there are ${[...values, ...flags].join(', ')}`);
    else rest.push(word);
  }
  return { option: (name) => found.get(name), has: (name) => found.has(name), rest };
}

export function wholeNumber(
  name: string,
  text: string | undefined,
  { least, most, otherwise }: { least: number; most: number; otherwise: number },
): number {
  const value = text === undefined ? otherwise : Number(text);
  if (!Number.isInteger(value) || value < least || value > most)
    throw new Usage(`${name}: met ${text}, expected a whole number from ${least} to ${most}`);
  return value;
}

export function instantOption(name: string, text: string | undefined, otherwise: number): number {
  const at = text === undefined ? otherwise : Date.parse(text);
  if (Number.isNaN(at)) throw new Usage(`${name}: met ${text}, expected an ISO 8601 date and time`);
  return at;
}

export function required(name: string, value: string | undefined): string {
  if (value === undefined) throw new Usage(`${name} is missing`);
  return value;
}
