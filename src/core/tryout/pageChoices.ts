import { normalisePath } from '../pages/address';
import type { Pointed } from './asked';

export interface PageChoice {
  readonly picked: Extract<Pointed, { kind: 'page' }>;
  readonly words: string;
}

const like = (value: string, words: string): PageChoice => ({ picked: { kind: 'page', op: 'like', value }, words });
/** A part of a path that is one of many of its kind: a number, a date, an id. */
const isOneOfMany = (part: string): boolean => /\d/.test(part) && (/^\d+$/.test(part) || part.length > 7);

/** What may be meant by a page: itself, those beside it, its section, and pages that differ from it only in a number or an id. */
export function pageChoices(pathname: string): PageChoice[] {
  const path = normalisePath(pathname);
  const parts = path.split('/').filter(Boolean);
  const exact: PageChoice = { picked: { kind: 'page', op: 'is', value: path }, words: 'exactly this page' };
  if (parts.length === 0) return [exact, like('/**', 'every page')];
  const [section = ''] = parts;
  const pattern = parts.map((part) => (isOneOfMany(part) ? '*' : part));
  const all = [
    exact,
    ...(pattern.includes('*') ? [like(`/${pattern.join('/')}`, 'pages like it, whatever the number')] : []),
    ...(parts.length > 1 ? [like(`/${[...parts.slice(0, -1), '*'].join('/')}`, 'this page and those beside it')] : []),
    like(`/${section}/**`, `everything under /${section}`),
  ];
  return all.filter(({ picked }, index) => all.findIndex((one) => one.picked.value === picked.value) === index);
}
