/** In this header whoever started the processes says its secret; only what it started itself answers to it, whoever has the port. */
export const START_HEADER = 'x-crindle-start';

/** Headers of the answer to a question after health: empty unless it came from whoever started this process. */
export function startHeaders(asked: string | string[] | null | undefined): Record<string, string> {
  const own = process.env['CRINDLE_START'];
  return own && asked === own ? { [START_HEADER]: 'yes' } : {};
}
