/** Runs an entry point so that no error of ours ever reaches the host page; rejected promises included. */
export function guard<A extends unknown[]>(entryPoint: string, run: (...given: A) => unknown): (...given: A) => void {
  return (...given) => {
    try {
      const result = run(...given);
      if (result instanceof Promise) result.catch((cause: unknown) => report(entryPoint, cause));
    } catch (cause) {
      report(entryPoint, cause);
    }
  };
}

/** Faults are told on the one channel that disturbs nobody: a debug line, hidden unless asked for. */
function report(entryPoint: string, cause: unknown): void {
  console.debug(`crindle: ${entryPoint}`, cause);
}
