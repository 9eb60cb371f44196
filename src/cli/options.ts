import { isUnavailable } from '@/server/db/queryable';
import { parseArgs } from 'node:util';

/** A mistake in how a command was called: told without a stack trace. */
export class Usage extends Error {}

/** `--name value` pairs and flags, and what stands between them. Unknown options are refused. */
export function readOptions(
  words: readonly string[],
  { values, flags = [] }: { values: readonly string[]; flags?: readonly string[] },
): { option: (name: string) => string | undefined; has: (name: string) => boolean; rest: string[] } {
  const known = { ...ofType(values, 'string'), ...ofType(flags, 'boolean') };
  try {
    const { values: found, positionals } = parseArgs({ args: [...words], options: known, allowPositionals: true });
    const valueOf = (name: string) => found[name.slice(2)];
    return {
      option: (name) => (typeof valueOf(name) === 'string' ? (valueOf(name) as string) : undefined),
      has: (name) => valueOf(name) !== undefined,
      rest: positionals,
    };
  } catch (cause) {
    const { code, message } = cause as { code?: string; message: string };
    const name = /--[\w-]+/.exec(message)?.[0] ?? 'An option';
    if (code === 'ERR_PARSE_ARGS_UNKNOWN_OPTION')
      throw new Usage(`There is no option ${name}; there are ${[...values, ...flags].join(', ')}`, { cause });
    if (code === 'ERR_PARSE_ARGS_INVALID_OPTION_VALUE')
      throw new Usage(flags.includes(name) ? `${name} takes no value` : `${name} wants a value`, { cause });
    throw cause;
  }
}

const ofType = <T extends 'string' | 'boolean'>(names: readonly string[], type: T): Record<string, { type: T }> =>
  Object.fromEntries(names.map((name) => [name.slice(2), { type }]));

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

/** Ends the process by what came of a command: what was called wrongly, or a file that is wrong, is told in a line; a mistake of ours with its trace. */
export function endWith(run: Promise<void>): void {
  run.catch((cause: unknown) => {
    const isExpected =
      cause instanceof Usage ||
      cause instanceof SyntaxError ||
      isUnavailable(cause) ||
      (cause instanceof Error && 'code' in cause) ||
      (cause instanceof Error && cause.constructor === Error);
    console.error(isExpected ? `crindle: ${(cause as Error).message}` : cause);
    process.exit(cause instanceof Usage ? 2 : 1);
  });
}
