import type { z } from 'zod';
import type { Path } from '../logic/expr';

/** One mistake in something from outside. `met` is a short print of what stood there. */
export interface Issue {
  readonly code: string;
  readonly path: Path;
  readonly met: string;
  readonly expected: string;
}
export type Parsed<T> = { readonly ok: true; readonly value: T } | { readonly ok: false; readonly issues: readonly Issue[] };

export function parseWith<T>(schema: z.ZodType<T>, input: unknown): Parsed<T> {
  const parsed = schema.safeParse(input, { reportInput: true });
  if (parsed.success) return { ok: true, value: parsed.data };
  return { ok: false, issues: parsed.error.issues.map((issue) => issueFromZod(issue, input)) };
}

/** Text into JSON into a value; text that is no JSON is an issue like any other. */
export function parseJsonWith<T>(schema: z.ZodType<T>, text: string): Parsed<T> {
  let input: unknown;
  try {
    input = JSON.parse(text);
  } catch (cause) {
    const reason = cause instanceof Error ? cause.message : String(cause);
    return { ok: false, issues: [{ code: 'json', path: [], met: reason, expected: 'JSON' }] };
  }
  return parseWith(schema, input);
}

const EXPECTED: Record<string, string> = {
  'range.empty': 'a min, a max or both',
  'range.upsideDown': 'a min that is not above the max',
  'expr.tooDeep': 'groups nested at most 8 deep',
  'expr.tooManyLeaves': 'at most 200 conditions',
  'expr.mixedGroup': 'exactly one of all, any and none',
  'expr.partsNotList': 'a list of conditions',
  'moment.instantInNone': 'exit and idle outside of none',
  'pattern.name': 'a name for a parameter, and only for a parameter',
  'pattern.value': 'a value, except with exists',
  'pattern.exists': 'exists only for a parameter, the fragment or a label',
  'calendar.instant': 'an ISO 8601 date, or a date and a time with Z or an offset such as +01:00',
  'email.one': 'one email address',
  'calendar.zone': 'an IANA time zone or visitor',
  'calendar.equalHours': 'two different hours',
  'place.openRing': 'a ring that ends where it begins',
  'place.crossesItself': 'a ring whose edges do not cross',
  'place.tooManyPoints': 'at most 20,000 points in a place',
  'segment.circle': 'segments that do not refer back to themselves',
  'pattern.unreadable': 'a regular expression',
  'field.options': 'options for a choice, and only for a choice',
  'field.checked': 'checked only for an email or a phone number',
  'field.link': 'a link only for a consent',
  'fields.sameName': 'fields with names of their own',
  'countdown.end': 'either an instant or a number of minutes',
  'messages.sameId': 'messages with ids of their own',
  'brand.sameName': 'values with names of their own',
  'flow.start': 'the id of one of the messages',
  'variants.sameName': 'variants with names of their own',
  'variants.start': 'ids of messages of the flow',
  'calendar.upsideDown': 'an until after the from',
  'event.ofOne': 'exactly one of email, customer and browser',
  'values.tooMany': 'at most 50 values',
};

function issueFromZod(outer: z.core.$ZodIssue, input: unknown): Issue {
  const inner = outer.code === 'custom' ? (outer.params?.['issue'] as z.core.$ZodIssue | undefined) : undefined;
  const issue = inner ?? outer;
  const path = outer.path as Path;
  const code = issue.code === 'custom' ? issue.message : issue.code;
  // What was unpacked before it was looked at does not stand there in what came.
  return { code, path, met: printed(valueAt(input, path) ?? issue.input), expected: EXPECTED[code] ?? expectedBy(issue) };
}

function expectedBy(issue: z.core.$ZodIssue): string {
  switch (issue.code) {
    case 'invalid_type':
      return `${/^[aeiou]/.test(issue.expected) ? 'an' : 'a'} ${issue.expected}`;
    case 'too_small':
      return `${issue.origin === 'string' || issue.origin === 'array' ? 'a length of ' : ''}${issue.inclusive === false ? 'more than' : 'at least'} ${issue.minimum}`;
    case 'too_big':
      return `${issue.origin === 'string' || issue.origin === 'array' ? 'a length of ' : ''}${issue.inclusive === false ? 'less than' : 'at most'} ${issue.maximum}`;
    case 'invalid_value':
      return `one of ${issue.values.map(String).join(', ')}`;
    case 'unrecognized_keys':
      return `no field ${issue.keys.join(', ')}`;
    case 'invalid_union':
      return issue.errors.length === 0 ? 'a known kind' : unionExpected(issue.errors);
    case 'invalid_format':
    case 'not_multiple_of':
    case 'invalid_key':
    case 'invalid_element':
    case 'custom':
      return issue.message;
  }
}

/** Of several shapes none fitted: tell what the nearest one, that with the fewest mistakes, asks for. */
function unionExpected(errors: readonly (readonly z.core.$ZodIssue[])[]): string {
  const nearest = [...errors].sort((a, b) => a.length - b.length)[0] ?? [];
  const wanted = nearest.map((issue) => [issue.path.join('.'), expectedBy(issue)].filter(Boolean).join(': '));
  return wanted.join('; ') || 'one of the known shapes';
}

function valueAt(input: unknown, path: Path): unknown {
  return path.reduce<unknown>(
    (value, key) => (value === null || value === undefined ? undefined : (value as Record<string | number, unknown>)[key]),
    input,
  );
}

const PRINTED = 80;

/** A short print of anything, however deep it is nested. */
function printed(value: unknown): string {
  if (value === undefined) return 'nothing';
  const text = printDown(value, 6);
  return text.length > PRINTED ? `${text.slice(0, PRINTED - 3)}…` : text;
}

function printDown(value: unknown, levels: number): string {
  if (typeof value !== 'object' || value === null) return JSON.stringify(typeof value === 'string' ? value.slice(0, PRINTED) : value);
  if (levels === 0) return '…';
  const few = PRINTED / 2;
  if (Array.isArray(value))
    return `[${value
      .slice(0, few)
      .map((one) => printDown(one, levels - 1))
      .join(',')}]`;
  return `{${Object.entries(value)
    .slice(0, few)
    .map(([key, one]) => `${JSON.stringify(key)}:${printDown(one, levels - 1)}`)
    .join(',')}}`;
}

/** "moment.all.0.seconds: met -1, expected at least 0" */
export function issueWords({ path, met, expected }: Issue): string {
  return `${path.length ? `${path.join('.')}: ` : ''}met ${met}, expected ${expected}`;
}
