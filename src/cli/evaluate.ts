import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Shared } from '@/core/rules/vectors';
import { answerMoment, answerPacing, answerPages, answerPeople } from '@/core/rules/vectors';
import { jsonOf } from './files';
import { Usage } from './options';
import { parsePacingCase, parseCase } from './parseCase';

const FILES = [
  { file: 'pages.jsonl', answer: answerPages },
  { file: 'people.jsonl', answer: answerPeople },
  { file: 'moment.jsonl', answer: answerMoment },
  { file: 'pacing.jsonl', answer: answerPacing },
] as const;

/** Answers the cases of a folder, one JSON line a case, in order; a case that cannot be answered says why. */
export function evaluateFolder(folder: string, print: (line: string) => void): void {
  if (!FILES.some(({ file }) => existsSync(join(folder, file))))
    throw new Usage(`${folder}: met none of ${FILES.map(({ file }) => file).join(', ')}, expected a folder that has some of them`);
  const shared = readShared(join(folder, 'shared.json'));
  for (const { file, answer } of FILES) {
    const path = join(folder, file);
    if (!existsSync(path)) continue;
    for (const [index, line] of readFileSync(path, 'utf8').split('\n').entries()) {
      if (line.trim() !== '') print(JSON.stringify(answerLine(line, { file, index, shared, answer: answer })));
    }
  }
}

function readShared(path: string): Shared {
  return existsSync(path) ? (jsonOf('shared.json', path) as Shared) : { sets: {}, segments: {} };
}

function answerLine(
  line: string,
  { file, index, shared, answer }: { file: string; index: number; shared: Shared; answer: (one: never, shared: Shared) => unknown },
): object {
  let id: unknown = `${file}:${index + 1}`;
  try {
    const input = JSON.parse(line) as { id?: unknown };
    id = input.id ?? id;
    const issues = file === 'pacing.jsonl' ? parsePacingCase(input) : parseCase(input);
    if (issues.length) return { id, error: issues.join('; ') };
    return { id, result: answer(input as never, shared) };
  } catch (cause) {
    return { id, error: cause instanceof Error ? cause.message : String(cause) };
  }
}
