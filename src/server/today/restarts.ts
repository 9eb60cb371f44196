import { readdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';

/** A process that had ended and was started again since Crindle was started. */
export interface Restart {
  readonly name: string;
  readonly times: number;
  /** The last time, UTC ms. */
  readonly at: number;
  /** What it had ended with. */
  readonly code: number;
  /** Whether it runs by now. */
  readonly runs: boolean;
}

/** What `scripts/keep.sh` has written down in the folder where the processes are; nothing where it is not known. */
export async function restartsIn(folder: string | undefined): Promise<Restart[]> {
  if (folder === undefined) return [];
  const names = (await readdir(folder)).filter((name) => name.endsWith('.restarts')).sort();
  const read = await Promise.all(
    names.map(async (file): Promise<Restart | undefined> => {
      const [, times, at, code, now] = /^(\d+) (\d+) (\d+) (runs|ended)\n$/.exec(await readFile(join(folder, file), 'utf8')) ?? [];
      // Being written at this moment: read the next time.
      if (code === undefined) return undefined;
      return { name: file.replace('.restarts', ''), times: Number(times), at: Number(at) * 1000, code: Number(code), runs: now === 'runs' };
    }),
  );
  return read.filter((one) => one !== undefined);
}
