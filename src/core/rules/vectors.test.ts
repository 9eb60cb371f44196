import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Shared } from './vectors';
import { answerMoment, answerPacing, answerPages, answerPeople } from './vectors';

const folder = join(__dirname, 'vectors');
const shared = JSON.parse(readFileSync(join(folder, 'shared.json'), 'utf8')) as Shared;

function cases<T>(file: string): (T & { id: string })[] {
  const lines = readFileSync(join(folder, file), 'utf8').trim().split('\n');
  return lines.map((line) => JSON.parse(line) as T & { id: string });
}

describe.each([
  { file: 'pages.jsonl', answer: answerPages, field: 'holds' },
  { file: 'people.jsonl', answer: answerPeople, field: 'holds' },
  { file: 'moment.jsonl', answer: answerMoment, field: 'showsAt' },
  { file: 'pacing.jsonl', answer: answerPacing, field: 'shows' },
])('cases of $file', ({ file, answer, field }) => {
  test.each(cases<Record<string, unknown>>(file))('$id', (one) => {
    expect((answer as (one: unknown, shared: Shared) => unknown)(one, shared)).toEqual(one[field]);
  });
});
