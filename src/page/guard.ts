type Report = (entryPoint: string, cause: unknown) => void;

let tellFault: Report = () => undefined;

/** Where faults go besides the console: set once, when there is somebody to tell. */
export function reportFaultsTo(report: Report): void {
  tellFault = report;
}

/** Runs an entry point so that no error of ours ever reaches the host page; promises included, also those that the page makes itself. */
export function guard<A extends unknown[]>(entryPoint: string, run: (...given: A) => unknown): (...given: A) => void {
  return (...given) => {
    try {
      const result = run(...given) as PromiseLike<unknown> | undefined;
      result?.then?.(undefined, (cause: unknown) => report(entryPoint, cause));
    } catch (cause) {
      report(entryPoint, cause);
    }
  };
}

/** In the page, faults are told on the one channel that disturbs nobody: a debug line, hidden unless asked for. */
function report(entryPoint: string, cause: unknown): void {
  try {
    console.debug(`crindle: ${entryPoint}`, cause);
    tellFault(entryPoint, cause);
  } catch {
    // A page that has taken the console away, or what telling needs, is told nothing.
  }
}

/** A timer whose fault does not reach the page either. */
export const later = (run: () => unknown, ms?: number): ReturnType<typeof setTimeout> => setTimeout(guard('timer', run), ms);
