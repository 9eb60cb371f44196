// A copy of the tree with something in it changed, as the type checker sees it.
import { execFile } from 'node:child_process';
import { cpSync, mkdirSync, mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join, resolve } from 'node:path';
import { promisify } from 'node:util';

export const ROOT = resolve(__dirname, '../..');

export const read = (path: string): string => readFileSync(join(ROOT, path), 'utf8');

/** Files of the tree by their path from its root; what is not there yet is made. */
export type Changes = ReadonlyMap<string, string>;

const FOLDERS = ['src', 'demo', 'bench', 'standins'];

/** Gives `work` the root of a copy of the code with these files changed, which is gone afterwards. */
export async function withCopy<T>(changes: Changes, work: (root: string) => Promise<T>): Promise<T> {
  const copy = mkdtempSync(join(tmpdir(), 'crindle-copy-'));
  try {
    for (const folder of FOLDERS) cpSync(join(ROOT, folder), join(copy, folder), { recursive: true });
    for (const name of ['node_modules', 'package.json']) symlinkSync(join(ROOT, name), join(copy, name));
    cpSync(join(ROOT, 'tsconfig.json'), join(copy, 'tsconfig.json'));
    for (const [path, text] of changes) {
      mkdirSync(dirname(join(copy, path)), { recursive: true });
      writeFileSync(join(copy, path), text);
    }
    return await work(copy);
  } finally {
    rmSync(copy, { recursive: true, force: true });
  }
}

/** The product's files in these folders, without tests, in which the type checker finds a mistake; sorted. */
export async function faultyFiles(root: string, folders: readonly string[]): Promise<string[]> {
  const config = { extends: './tsconfig.json', include: folders, exclude: ['**/*.test.ts', '**/*.test.tsx'] };
  writeFileSync(join(root, 'tsconfig.product.json'), JSON.stringify(config));
  const words = [join(ROOT, 'node_modules/ts7/bin/tsc'), '-p', 'tsconfig.product.json', '--incremental', 'false', '--pretty', 'false'];
  const { stdout } = await promisify(execFile)(process.execPath, words, { cwd: root, maxBuffer: 1 << 28 }).catch(
    (cause: Error & { stdout?: string; code?: unknown }) => {
      // It ends with 1 or 2 where it has found something to say.
      if (typeof cause.stdout !== 'string' || !cause.stdout.includes('error TS')) throw cause;
      return { stdout: cause.stdout };
    },
  );
  return [...new Set([...stdout.matchAll(/^(\S+?)\(\d+,\d+\): error TS/gm)].map(([, file = '']) => file))].sort();
}
