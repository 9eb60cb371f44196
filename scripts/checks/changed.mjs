// What the working tree's changes touch: the tests that import what has changed, and the browser tests of its folders.
import { execFileSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';

const git = (...words) => execFileSync('git', words, { encoding: 'utf8' }).split('\0').filter(Boolean);

/** Files that are not as the last commit has them, and still there. */
export const changedFiles = () =>
  [...git('diff', '--name-only', '-z', 'HEAD'), ...git('ls-files', '--others', '--exclude-standard', '-z')].filter((file) =>
    existsSync(file),
  );

/** The browser tests of these files: a test that has changed itself, and those of the nearest folder that `e2e/covers.json` names. */
export function specsOf(files, covers = JSON.parse(readFileSync('e2e/covers.json', 'utf8'))) {
  const named = files.flatMap((file) => {
    if (file.startsWith('e2e/')) return file.endsWith('.spec.ts') ? [file.slice('e2e/'.length, -'.spec.ts'.length)] : [];
    if (/\.test\.tsx?$/.test(file)) return [];
    const folders = file.split('/').map((_, nth, parts) => parts.slice(0, parts.length - nth).join('/'));
    return covers[folders.find((folder) => folder in covers)] ?? [];
  });
  return [...new Set(named)].sort();
}

/** The quick stages whole; the others narrowed to what has changed, and left out where nothing is left of them. */
export function stagesForChanges(stages) {
  const files = changedFiles();
  const code = files.filter((file) => /^(src|demo|bench|standins|e2e|scripts)\/.*\.(ts|tsx|mjs)$/.test(file));
  const related = code.filter((file) => /\.tsx?$/.test(file) && !file.endsWith('.spec.ts'));
  const specs = specsOf(files);
  console.log(`${files.length} changed files; browser tests: ${specs.join(', ') || 'none'}`);
  return stages.flatMap((stage) => {
    const [command, ...words] = stage.run;
    switch (stage.name) {
      case 'format':
        return files.length > 0 ? [{ ...stage, run: [command, ...words.slice(0, -1), '--ignore-unknown', ...files] }] : [];
      case 'lint':
        return code.length > 0 ? [{ ...stage, run: [command, ...words.slice(0, -1), '--no-warn-ignored', ...code] }] : [];
      case 'unit':
      case 'database':
        return related.length > 0
          ? [{ ...stage, mayBeEmpty: true, run: [command, ...words, '--passWithNoTests', '--findRelatedTests', ...related] }]
          : [];
      case 'alone':
      case 'browser': {
        const own = specs.filter((name) => name.startsWith('alone/') === (stage.name === 'alone'));
        return own.length > 0 ? [{ ...stage, run: [command, ...words, ...own.map((name) => `e2e/${name}.spec.ts`)] }] : [];
      }
      case 'answers':
      case 'clock':
      case 'bench':
        return [];
      default:
        return [stage];
    }
  });
}
