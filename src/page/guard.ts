type Report = (entryPoint: string, cause: unknown) => void;

let tellFault: Report = () => undefined;

/** Where faults go besides the console: set once, when there is somebody to tell. */
export function reportFaultsTo(report: Report): void {
  tellFault = report;
}

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

/** In the page, faults are told on the one channel that disturbs nobody: a debug line, hidden unless asked for. */
function report(entryPoint: string, cause: unknown): void {
  console.debug(`crindle: ${entryPoint}`, cause);
  try {
    tellFault(entryPoint, cause);
  } catch (another) {
    console.debug(another);
  }
}
