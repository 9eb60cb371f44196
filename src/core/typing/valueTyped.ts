import type { ValueTest } from '../logic/valueTest';
import { said } from './said';
import { rangeOf } from './spoken';

const bare = (text: string): string => text.trim().replace(/^["“«](.*)["”»]$/, '$1');

/** "is family", "contains plus", "over 5", "was at least 30 days ago", "is set". Undefined where it is no test of a value. */
export function valueTyped(text: string): ValueTest | undefined {
  const asked = text.trim().replace(/^that\s+/i, '');
  if (/^(?:is set|exists|is there|at all)?$/i.test(asked)) return { op: 'exists' };
  const list = /^(?:is |are |= ?)?(?:one|any) of (.+)$/i.exec(asked)?.[1];
  if (list !== undefined)
    return {
      op: 'oneOf',
      value: list
        .split(/,| or /)
        .map(bare)
        .filter(Boolean),
    };
  for (const [op, words] of [
    ['contains', /^(?:contains|containing|includes|has) (.+)$/i],
    ['starts', /^(?:starts|begins|starting|beginning) with (.+)$/i],
    ['ends', /^(?:ends|ending) (?:with|in) (.+)$/i],
  ] as const) {
    const value = words.exec(asked)?.[1];
    if (value !== undefined) return { op, value: bare(value) };
  }
  const quantity = asked.replace(/^(?:was|is|are|=)\s+/i, '');
  const { amounts, words, pages, quoted } = said(quantity);
  const [amount] = amounts;
  if (amounts.length === 1 && amount && pages.length + quoted.length === 0 && !/^["“]/.test(quantity)) {
    if (amount.unit === 'd' && words.join(' ') === 'ago') return { op: 'daysAgo', ...rangeOf(amount) };
    if (amount.unit === undefined && words.length === 0 && !amount.isBare) return { op: 'range', ...rangeOf(amount) };
  }
  const value = /^(?:is|are|=|:)\s*(.+)$/i.exec(asked)?.[1];
  return value === undefined ? undefined : { op: 'is', value: bare(value) };
}
