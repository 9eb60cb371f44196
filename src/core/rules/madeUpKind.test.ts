import { readFileSync } from 'node:fs';
import { dirname, join, resolve } from 'node:path';
import ts from 'typescript';

const ROOT = resolve(__dirname, '../../..');
const read = (path: string): string => readFileSync(join(ROOT, path), 'utf8');

/** A kind like another under a name of its own, listed beside it in a copy of the tree that stands in memory. */
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

/** The files in which the compiler finds a mistake, with the tree as it stands but for these. */
function namedBy(changed: ReadonlyMap<string, string>): string[] {
  const { config } = ts.readConfigFile(join(ROOT, 'tsconfig.json'), (path) => ts.sys.readFile(path)) as { config: object };
  const { options, fileNames } = ts.parseJsonConfigFileContent({ ...config, include: ['src'] }, ts.sys, ROOT);
  const host = ts.createCompilerHost({ ...options, incremental: false });
  const changedAt = new Map([...changed].map(([path, text]) => [join(ROOT, path), text]));
  const over: ts.CompilerHost = {
    ...host,
    readFile: (path) => changedAt.get(resolve(path)) ?? host.readFile(path),
    fileExists: (path) => changedAt.has(resolve(path)) || host.fileExists(path),
    getSourceFile: (path, version, ...rest) => {
      const text = changedAt.get(resolve(path));
      return text === undefined ? host.getSourceFile(path, version, ...rest) : ts.createSourceFile(path, text, version);
    },
  };
  const program = ts.createProgram([...fileNames.filter((name) => !/\.test\.tsx?$/.test(name))], { ...options, incremental: false }, over);
  return [...new Set(program.getSemanticDiagnostics().map(({ file }) => file?.fileName.slice(ROOT.length + 1) ?? 'no file'))].sort();
}

const KINDS = [
  ['src/core/people/condition.ts', 'src/core/people/kinds/adBlocker.ts', 'adBlocker'],
  ['src/core/moments/moment.ts', 'src/core/moments/kinds/open.ts', 'open'],
  ['src/core/messages/action.ts', 'src/core/messages/actions/close.ts', 'close'],
  ['src/core/messages/simpleBlock.ts', 'src/core/messages/blocks/spacer.ts', 'spacer'],
] as const;

test('the compiler names every file that lacks a made-up condition, moment, action and block, and no other', () => {
  const changed = new Map(KINDS.flatMap(([list, file, like]) => [...madeUp(list, file, like)]));
  expect(namedBy(changed)).toEqual([
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
