import fc from 'fast-check';
import { richBlock } from '@/core/messages/blocks/rich';
import type { RichPart, Run } from '@/core/messages/blocks/rich';
import { docOf, partsOf } from './richSchema';

/** Parts as the editor keeps them: paragraphs in a row are one part, and letters that are formatted alike one run. */
function settled(parts: readonly RichPart[]): RichPart[] {
  const merged: { as: RichPart['as']; lines: Run[][] }[] = [];
  for (const { as, lines } of parts) {
    const joined = lines.map((line) => {
      const runs: Run[] = [];
      for (const run of line) {
        const last = runs.at(-1);
        const isAlike = last && last.bold === run.bold && last.italic === run.italic && last.link === run.link;
        if (isAlike) runs[runs.length - 1] = { ...last, text: last.text + run.text };
        else runs.push(run);
      }
      return runs;
    });
    const last = merged.at(-1);
    if (as === 'paragraphs' && last?.as === as) last.lines.push(...joined);
    else merged.push({ as, lines: joined });
  }
  return merged;
}

test('what is opened in the editor comes out as it went in', () => {
  fc.assert(
    fc.property(richBlock.example(fc), (block) => {
      const doc = docOf(block);
      doc.check();
      expect(partsOf(doc)).toEqual(block.parts.length ? settled(block.parts) : [{ as: 'paragraphs', lines: [[]] }]);
    }),
  );
});
