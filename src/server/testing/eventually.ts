const PATIENCE_MS = 30_000;
const LOOK_EVERY_MS = 10;

/** Waits until something has come about. Gives up with an error that says what was waited for. */
export async function eventually(holds: () => boolean | Promise<boolean>, what = holds.toString()): Promise<void> {
  const end = performance.now() + PATIENCE_MS;
  while (!(await holds())) {
    if (performance.now() > end) throw new Error(`Waited ${PATIENCE_MS} ms in vain until ${what}`);
    await new Promise((resolve) => setTimeout(resolve, LOOK_EVERY_MS));
  }
}
