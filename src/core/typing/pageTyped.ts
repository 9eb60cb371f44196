import type { PagePattern } from '../pages/pattern';
import type { Vocabulary } from './vocabulary';

/** An address, or a path from the root of the site. */
export const MAY_BE_PATTERN = /(?<=\s)(?:https?:\/\/[^\s,;]+|\/[^\s,;]*)(?=[\s,;]|$)/gi;

/** As descriptions write a part of an address; inside a longer phrase it needs its quotes. */
export const DESCRIBED_PATTERN =
  /(?<=\s)(?:any parameter "[^"]*"|any (?:fragment|label)(?=[\s,])|(?:path|host|address|fragment|title|label|parameter "[^"]*")\s+(?:(?:starting|containing|ending|like)\s+)?"[^"]*")/gi;

/** The page that an address or a path means; a star is a wildcard. */
export function patternTyped(text: string): PagePattern | undefined {
  if (text.startsWith('/')) return { op: 'like', value: text };
  if (!URL.canParse(text)) return undefined;
  const { pathname } = new URL(text);
  return { op: 'like', value: decode(pathname) };
}

function decode(path: string): string {
  try {
    return decodeURI(path);
  } catch {
    return path;
  }
}

const OPS = {
  is: /^(?:is|are|equals|=|exactly|:)?$/,
  starts: /^(?:starts? with|begins? with|starting with|starting|beginning with|begins?|starts?)$/,
  contains: /^(?:contains?|containing|includes?|including|has|with|in)$/,
  ends: /^(?:ends? with|ending with|ending in|ending|ends? in|ends?)$/,
  like: /^(?:like|matches|matching)$/,
} as const;
const OP_WORDS =
  '(?:is|are|equals|=|exactly|:|starts? with|begins? with|starting with|starting|beginning with|begins?|starts?|contains?|containing|includes?|including|has|with|ends? with|ending with|ending in|ending|ends? in|ends?|like|matches|matching)';
const PARTS = {
  url: 'path',
  path: 'path',
  page: 'path',
  pages: 'path',
  urls: 'path',
  address: 'address',
  host: 'host',
  domain: 'host',
  fragment: 'fragment',
  hash: 'fragment',
  anchor: 'fragment',
  title: 'title',
  label: 'label',
  category: 'label',
  labelled: 'label',
} as const;
const bare = (text: string): string => text.trim().replace(/^["“«](.*)["”»]$/, '$1');
const opOf = (words: string): keyof typeof OPS | undefined =>
  (Object.keys(OPS) as (keyof typeof OPS)[]).find((op) => OPS[op].test(words.trim().toLowerCase()));

/** "title contains moss", "?ref=a", "parameter ref", "path starting /huts", as descriptions say it and in the usual other words. */
export function partTyped(plain: string): PagePattern | undefined {
  const query = /^\?([\w.-]+)(?:=(.*))?$/.exec(plain);
  if (query) return parameter(query[1] ?? '', 'is', query[2] || undefined);
  const named = new RegExp(
    `^(?:any |with |has |the )*(?:url |query )?param(?:eter)?s? (?:"([^"]+)"|([\\w.-]+))(?:\\s*(${OP_WORDS})?\\s*(.+))?$`,
    'i',
  ).exec(plain);
  if (named) {
    const name = named[1] ?? named[2] ?? '';
    const op = opOf(named[3] ?? '') ?? 'is';
    return parameter(
      name,
      op,
      /^(?:exists|is set|at all|given)$/i.test(`${named[3] ?? ''} ${named[4] ?? ''}`.trim())
        ? undefined
        : named[4] === undefined
          ? undefined
          : bare(named[4]),
    );
  }
  const any = /^any (fragment|hash|label)$/i.exec(plain);
  if (any) return { part: /label/i.test(any[1] ?? '') ? 'label' : 'fragment', op: 'exists' };
  const found = new RegExp(
    `^(url|urls|path|page|pages|address|host|domain|fragment|hash|anchor|title|label|labelled|category)(?: (?:of the page|path))?\\s*(?:(${OP_WORDS})\\s+|[:=]\\s*|\\s+)(.+)$`,
    'i',
  ).exec(plain);
  if (!found) return undefined;
  const name = (found[1] ?? '').toLowerCase() as keyof typeof PARTS;
  const op = opOf(found[2] ?? '');
  const value = bare(found[3] ?? '');
  if (op === undefined || value === '') return undefined;
  const part = PARTS[name];
  if (part === 'path' && op === 'is') {
    if (!value.startsWith('/')) return undefined;
    // Quotes are how a description says that a star is a star.
    return /^["“]/.test((found[3] ?? '').trim()) ? { op: 'is', value } : patternTyped(value);
  }
  if (op === 'like' && part !== 'path') return undefined;
  return part === 'path' ? { op, value } : { part, op, value };
}

const parameter = (name: string, op: keyof typeof OPS, value: string | undefined): PagePattern =>
  value === undefined ? { part: 'parameter', name, op: 'exists' } : { part: 'parameter', name, op: op === 'like' ? 'is' : op, value };

/** A path that no page has, but with which some begin, is taken for their beginning: it is still being typed. */
export function finished(pattern: PagePattern, pages: Vocabulary['pages']): PagePattern {
  if ('set' in pattern || pattern.op !== 'like' || pattern.value === undefined || pattern.value.includes('*')) return pattern;
  const { value } = pattern;
  const isWhole = pages.some(({ path }) => path === value) || !pages.some(({ path }) => path.startsWith(value));
  return isWhole ? pattern : { op: 'like', value: `${value}*` };
}
