// Which leads a list shows: a handful of terms that all hold, written in the address of the screen.
import { z } from 'zod';
import type { Issue } from '../parsing/parse';

export const LEAD_TERM_KINDS = ['campaign', 'page', 'answer', 'tag', 'consent', 'text'] as const;
export type LeadTermKind = (typeof LEAD_TERM_KINDS)[number];

/**
 * One term. `campaign` is an id; `page` a path with wildcards; `answer` is `name=part of what was answered`; `tag` one of the team's tags;
 * `consent` is yes or no; `text` stands in the email, an answer, the address or the note.
 */
export interface LeadTerm {
  readonly kind: LeadTermKind;
  readonly value: string;
}

const MOST_TERMS = 20;
const text = z.string().trim().min(1).max(300);
const VALUES: Readonly<Record<LeadTermKind, { readonly schema: z.ZodType<string>; readonly expected: string }>> = {
  campaign: { schema: text, expected: 'the id of a campaign' },
  page: { schema: text.regex(/^\//), expected: 'a path such as /journal/**' },
  answer: { schema: text.regex(/^[^=]+=/), expected: 'the name of a field, = and what was answered' },
  tag: { schema: text, expected: 'a tag' },
  consent: { schema: z.enum(['yes', 'no']), expected: 'yes or no' },
  text: { schema: text, expected: 'a text' },
};

/** The terms of an address, and what of it is none; other parameters of the screen are `ignored`. `q` is a text. */
export function leadTerms(
  parameters: Iterable<readonly [string, string]>,
  ignored: readonly string[] = ['after'],
): { terms: LeadTerm[]; issues: Issue[] } {
  const terms: LeadTerm[] = [];
  const issues: Issue[] = [];
  for (const [name, value] of parameters) {
    if (ignored.includes(name) || value.trim() === '') continue;
    const kind = LEAD_TERM_KINDS.find((one) => one === (name === 'q' ? 'text' : name));
    if (!kind) issues.push({ code: 'term.kind', path: [name], met: value.slice(0, 80), expected: `one of ${LEAD_TERM_KINDS.join(', ')}` });
    else if (!VALUES[kind].schema.safeParse(value).success)
      issues.push({ code: 'term.value', path: [name], met: value.slice(0, 80), expected: VALUES[kind].expected });
    else if (terms.length === MOST_TERMS)
      issues.push({ code: 'term.many', path: [name], met: value.slice(0, 80), expected: `at most ${MOST_TERMS} terms` });
    else if (!terms.some((term) => term.kind === kind && term.value === value)) terms.push({ kind, value });
  }
  return { terms, issues };
}

/** "from “Packing list”", "on /journal/**": goes on from "Leads". `campaignName`: by id. */
export function leadTermWords({ kind, value }: LeadTerm, campaignName: (id: string) => string): string {
  switch (kind) {
    case 'campaign':
      return `from “${campaignName(value)}”`;
    case 'page':
      return `on ${value}`;
    case 'answer':
      return `who answered ${value.replace('=', ': ')}`;
    case 'tag':
      return `tagged ${value}`;
    case 'consent':
      return value === 'yes' ? 'who agreed to something' : 'who agreed to nothing';
    case 'text':
      return `with “${value}”`;
  }
}

/** A path with wildcards as a regular expression: `*` is one level, `**` any number. */
export const globRegex = (glob: string): string =>
  `^${glob.replace(/[.+?^${}()|[\]\\]/g, '\\$&').replace(/\/\*\*|\*\*|\*/g, (met) => (met === '/**' ? '(/.*)?' : met === '**' ? '.*' : '[^/]*'))}$`;
