import { existsSync, readFileSync, statSync } from 'node:fs';
import { required, Usage } from './options';

/** A file that a command was given. @throws Usage where there is none, in words */
export function existingFile(name: string, path: string | undefined): string {
  const file = required(name, path);
  if (!existsSync(file)) throw new Usage(`${file} is not there`);
  if (!statSync(file).isFile()) throw new Usage(`${file} is a folder, expected a file`);
  return file;
}

/** What stands in it. @throws Usage where it cannot be read */
export function textOf(name: string, path: string | undefined): string {
  const file = existingFile(name, path);
  try {
    return readFileSync(file, 'utf8');
  } catch (cause) {
    throw new Usage(`${file} cannot be read: ${(cause as NodeJS.ErrnoException).code ?? 'unknown'}`, { cause });
  }
}

/** What stands in it as JSON. @throws Error that names the file where it is none */
export function jsonOf(name: string, path: string | undefined): unknown {
  const text = textOf(name, path);
  try {
    return JSON.parse(text);
  } catch (cause) {
    throw new Error(`${path ?? name}: expected JSON, met ${cause instanceof Error ? cause.message : String(cause)}`, { cause });
  }
}
