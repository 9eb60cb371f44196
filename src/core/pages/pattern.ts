import { z } from 'zod';
import { quoted } from '../logic/valueTest';
import type { Truth } from '../logic/truth';
import { or } from '../logic/truth';
import type { Address, Page } from './address';
import { addressOf, decodeLeniently, normalisePath } from './address';
import { isLike } from './like';

const PARTS = ['path', 'host', 'address', 'fragment', 'title', 'label', 'parameter'] as const;
const OPS = ['is', 'starts', 'contains', 'ends', 'like', 'exists'] as const;

export const plainPatternSchema = () =>
  z
    .strictObject({
      part: z.enum(PARTS).optional(),
      name: z.string().min(1).max(200).optional(),
      op: z.enum(OPS),
      value: z.string().max(1000).optional(),
    })
    .superRefine((pattern, issues) => {
      const part = pattern.part ?? 'path';
      const add = (field: string, message: string) => issues.addIssue({ code: 'custom', path: [field], message });
      if ((part === 'parameter') !== (pattern.name !== undefined)) add('name', 'pattern.name');
      if ((pattern.op === 'exists') !== (pattern.value === undefined)) add('value', 'pattern.value');
      if (pattern.op === 'exists' && part !== 'parameter' && part !== 'fragment' && part !== 'label') add('op', 'pattern.exists');
    });
export type PlainPattern = z.infer<ReturnType<typeof plainPatternSchema>>;

export const setRefSchema = () => z.strictObject({ set: z.string().min(1).max(100) });
export const patternSchema = () => z.union([plainPatternSchema(), setRefSchema()]);
export type PagePattern = z.infer<ReturnType<typeof patternSchema>>;
export type PageSets = Readonly<Record<string, readonly PlainPattern[]>>;

/** Does the pattern match the page? Unknown where its part was not recorded or its page set no longer exists. */
export function patternHolds(pattern: PagePattern, page: Page, sets: PageSets): Truth {
  if ('set' in pattern) {
    const members = sets[pattern.set];
    return members ? or(members.map((member) => patternHolds(member, page, sets))) : null;
  }
  const texts = textsOf(pattern, page);
  return texts && texts.some((text) => textMatches(pattern, text));
}

function textsOf(pattern: PlainPattern, page: Page): readonly string[] | null {
  const part = pattern.part ?? 'path';
  if (part === 'title') return page.title === undefined ? null : [page.title.toLowerCase()];
  if (part === 'label') return page.labels ? page.labels.map((label) => label.toLowerCase()) : null;
  const address = addressOf(page);
  return address ? addressTexts(part, pattern.name ?? '', address) : null;
}

function addressTexts(part: 'path' | 'host' | 'address' | 'fragment' | 'parameter', name: string, address: Address): string[] {
  if (part === 'parameter') return address.parameters.getAll(name).map((value) => value.toLowerCase());
  if (part === 'fragment') return address.fragment === '' ? [] : [address.fragment];
  return [address[part]];
}

function textMatches(pattern: PlainPattern, text: string): boolean {
  const isPath = (pattern.part ?? 'path') === 'path';
  const value = pattern.value ?? '';
  const loose = (isPath ? decodeLeniently(value) : value).toLowerCase();
  switch (pattern.op) {
    case 'is':
      return text === (isPath ? normalisePath(value) : loose);
    case 'starts':
      return text.startsWith(loose);
    case 'contains':
      return text.includes(loose);
    case 'ends':
      return text.endsWith(loose);
    case 'like':
      return isLike(text, value);
    case 'exists':
      return true;
  }
}

const OP_WORDS = { is: '', starts: 'starting ', contains: 'containing ', ends: 'ending ', like: '', exists: '' } as const;

export function patternWords(pattern: PagePattern, nameOfSet: (id: string) => string): string {
  if ('set' in pattern) return `“${nameOfSet(pattern.set)}”`;
  const part = pattern.part ?? 'path';
  const value = pattern.value ?? '';
  if (part === 'path' && (pattern.op === 'is' || pattern.op === 'like')) {
    // A literal star and a wildcard must not read the same, nor a path and free text. Without a star both ask the same.
    const isPlain = /^\/[^\s,“”]*$/.test(value) && (pattern.op === 'like' || !value.includes('*'));
    return isPlain ? value : `path ${pattern.op === 'like' ? 'like ' : ''}${quoted(value)}`;
  }
  const subject = part === 'parameter' ? `parameter ${quoted(pattern.name ?? '')}` : part;
  if (pattern.op === 'exists') return `any ${subject}`;
  return `${subject} ${pattern.op === 'like' ? 'like ' : OP_WORDS[pattern.op]}${quoted(value)}`;
}
