import { normalisePath } from './address';
import { isLike } from './like';
import type { PagePattern, PlainPattern } from './pattern';

/** Does the wide pattern match every page that the narrow one matches? True only where that is certain. */
export function covers(wide: PagePattern, narrow: PagePattern): boolean {
  if ('set' in wide || 'set' in narrow) return 'set' in wide && 'set' in narrow && wide.set === narrow.set;
  const part = wide.part ?? 'path';
  if (part !== (narrow.part ?? 'path') || wide.name !== narrow.name) return false;
  if (wide.op === 'exists') return part !== 'label' || narrow.op !== 'exists';
  if (narrow.op === 'exists') return false;
  if (part === 'path') return pathCovers(wide, narrow);
  return textCovers(wide, narrow, (text) => text.toLowerCase());
}

function textCovers(wide: PlainPattern, narrow: PlainPattern, plain: (text: string) => string): boolean {
  const [ours, theirs] = [plain(wide.value ?? ''), plain(narrow.value ?? '')];
  if (wide.op === narrow.op && ours === theirs) return true;
  switch (wide.op) {
    case 'starts':
      return (narrow.op === 'is' || narrow.op === 'starts') && theirs.startsWith(ours);
    case 'ends':
      return (narrow.op === 'is' || narrow.op === 'ends') && theirs.endsWith(ours);
    case 'contains':
      return narrow.op !== 'like' && theirs.includes(ours);
    case 'is':
    case 'like':
    case 'exists':
      return false;
  }
}

function pathCovers(wide: PlainPattern, narrow: PlainPattern): boolean {
  const ours = normalisePath(wide.value ?? '');
  const theirs = normalisePath(narrow.value ?? '');
  const isLiteral = narrow.op === 'is' || (narrow.op === 'like' && !theirs.includes('*'));
  if (wide.op === 'like' && (ours === '/**' || ours === '**')) return true;
  if (wide.op === 'is' || (wide.op === 'like' && !ours.includes('*'))) return isLiteral && ours === theirs;
  if (wide.op === 'like') {
    if (isLiteral) return isLike(theirs, ours);
    if (narrow.op === 'like' && ours === theirs) return true;
    const stem = /^([^*]+)\/\*\*$/.exec(ours)?.[1];
    const beginning =
      narrow.op === 'like' ? (theirs.split('*')[0] ?? '') : narrow.op === 'starts' ? (narrow.value ?? '').toLowerCase() : '';
    return stem !== undefined && !beginning.includes('%') && beginning.startsWith(`${stem}/`);
  }
  if (isLiteral) return textCovers(wide, { ...narrow, op: 'is', value: theirs }, (text) => text.toLowerCase());
  return textCovers(wide, narrow, (text) => text.toLowerCase());
}
