import { dirname } from 'node:path';
import { faultyFiles, read, withCopy } from '../../testing/copiedTree';

/** A kind like another under a name of its own, listed beside it in a copy of the tree. */
function madeUp(list: string, file: string, like: string): Map<string, string> {
  const entry = new RegExp(`^  ${like}: (\\w+),$`, 'm');
  const listed = read(list);
  const object = entry.exec(listed)?.[1];
  if (object === undefined) throw new Error(`${list} lists no "${like}" for the made-up kind to stand beside`);
  const made = object.replace(like, 'madeUp');
  const place = file.replace(/\w+\.ts$/, 'madeUp.ts');
  const from = `./${place.slice(dirname(list).length + 1).replace(/\.ts$/, '')}`;
  return new Map([
    [list, `import { ${made} } from '${from}';\n${listed.replace(entry, (line) => `${line}\n  madeUp: ${made},`)}`],
    [place, read(file).replaceAll(object, made).replaceAll(`'${like}'`, "'madeUp'")],
  ]);
}

const KINDS = [
  ['src/core/people/condition.ts', 'src/core/people/kinds/adBlocker.ts', 'adBlocker'],
  ['src/core/moments/moment.ts', 'src/core/moments/kinds/open.ts', 'open'],
  ['src/core/messages/action.ts', 'src/core/messages/actions/close.ts', 'close'],
  ['src/core/messages/simpleBlock.ts', 'src/core/messages/blocks/spacer.ts', 'spacer'],
] as const;

test('the compiler names every file that lacks a made-up condition, moment, action and block, and no other', async () => {
  const changed = new Map(KINDS.flatMap(([list, file, like]) => [...madeUp(list, file, like)]));
  expect(await withCopy(changed, (root) => faultyFiles(root, ['src']))).toEqual([
    'src/core/moments/runtime.ts',
    'src/core/people/inPage.ts',
    'src/core/rehearsal/firing.ts',
    'src/core/rehearsal/mayFire.ts',
    'src/page/decide/present.ts',
    'src/page/show/blocks.ts',
    'src/page/show/show.ts',
    'src/server/counting/exprSql.ts',
    'src/studio/messages/texts.ts',
  ]);
}, 600_000);
