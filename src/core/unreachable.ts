/** The end of a `switch` over a closed union: adding a kind breaks the build here instead of guessing. */
export function unreachable(value: never): never {
  throw new Error(`Met a value outside its closed union: ${JSON.stringify(value)}`);
}
