// Which recorded visits a list shows: a handful of terms that all hold, written in the address of the screen.
import { z } from 'zod';
import type { Location, Outcome, Source } from '../history/visitor';
import { withProfile } from '../history/record';
import { CHANNELS, DEVICE_CATEGORIES, LONGEST_LOOKBACK_DAYS, OUTCOMES } from '../history/visitor';
import type { Expr } from '../logic/expr';
import { parseJsonWith } from '../parsing/parse';
import type { PeopleCondition } from '../people/condition';
import { peopleHold } from '../people/condition';
import type { Subject } from '../people/subject';
import { peopleSchema } from '../rules/schema';
import { patternHolds } from '../pages/pattern';
import type { RecordedVisitor } from '../rehearsal/recorded';
import type { Issue } from '../parsing/parse';

export const TERM_KINDS = ['page', 'segment', 'source', 'device', 'place', 'outcome', 'longer', 'shorter', 'who'] as const;
export type TermKind = (typeof TERM_KINDS)[number];

/**
 * One term. `page` is a path with wildcards; `segment` an id; `source` a channel, or the source, campaign or referring host
 * of the visit; `place` a country code, region or city; `outcome` is `converted`, or `converted:ID` of one campaign;
 * `longer` and `shorter` are seconds; `who` is a people expression as JSON, judged as the visit ended.
 */
export interface VisitTerm {
  readonly kind: TermKind;
  readonly value: string;
}

const MOST_TERMS = 30;
const text = z.string().trim().min(1).max(300);
const seconds = z.string().regex(/^\d{1,6}(\.\d+)?$/);
const VALUES: Readonly<Record<TermKind, { readonly schema: z.ZodType<string>; readonly expected: string }>> = {
  page: { schema: text, expected: 'a path such as /huts/**' },
  segment: { schema: text, expected: 'the id of a segment' },
  source: { schema: text, expected: `one of ${CHANNELS.join(', ')}, or a source's name` },
  device: { schema: z.enum(DEVICE_CATEGORIES), expected: DEVICE_CATEGORIES.join(', ') },
  place: { schema: text, expected: 'a country code or a city' },
  outcome: {
    schema: z.string().refine((value) => (OUTCOMES as readonly string[]).includes(value.split(':')[0] ?? '')),
    expected: `${OUTCOMES.join(', ')}, and behind a colon the id of a campaign if only one counts`,
  },
  longer: { schema: seconds, expected: 'seconds' },
  shorter: { schema: seconds, expected: 'seconds' },
  who: {
    schema: z
      .string()
      .max(4000)
      .refine((value) => peopleIn(value) !== undefined),
    expected: 'people as the rule language writes them, in JSON',
  },
};

/** What a `who` term asks; undefined where it is none. */
export function peopleIn(value: string): Expr<PeopleCondition> | undefined {
  const parsed = parseJsonWith(whoSchema, value);
  return parsed.ok ? parsed.value : undefined;
}
const whoSchema = peopleSchema();

/** The terms of an address, and what of it is none: other parameters of the screen are `ignored`. */
export function termsFromParameters(
  parameters: Iterable<readonly [string, string]>,
  ignored: readonly string[] = [],
): { terms: VisitTerm[]; issues: Issue[] } {
  const terms: VisitTerm[] = [];
  const issues: Issue[] = [];
  for (const [kind, value] of parameters) {
    if (ignored.includes(kind)) continue;
    const known = TERM_KINDS.find((one) => one === kind);
    if (!known) issues.push({ code: 'term.kind', path: [kind], met: value, expected: `one of ${TERM_KINDS.join(', ')}` });
    else if (!VALUES[known].schema.safeParse(value).success)
      issues.push({ code: 'term.value', path: [kind], met: value.slice(0, 80), expected: VALUES[known].expected });
    else if (terms.length === MOST_TERMS)
      issues.push({ code: 'term.many', path: [kind], met: value.slice(0, 80), expected: `at most ${MOST_TERMS} terms` });
    else if (!terms.some((term) => term.kind === known && term.value === value)) terms.push({ kind: known, value });
  }
  return { terms, issues };
}

export type VisitTest = (visitor: RecordedVisitor, visit: number) => boolean;

/**
 * Compiles terms. Every `page` has to be met by some page view, and every `who` to hold; of the other kinds one term of each kind is enough. A segment
 * that is not known is met by nobody.
 */
export function compileTerms(
  terms: readonly VisitTerm[],
  isIn: (segment: string, visitor: number) => boolean,
  known: Pick<Subject, 'sets' | 'segments' | 'places'> = { sets: {}, segments: {} },
): VisitTest {
  const of = (kind: TermKind): string[] => terms.filter((term) => term.kind === kind).map(({ value }) => value);
  const all = of('page').map(pageTest);
  const who = of('who').flatMap((value) => peopleIn(value) ?? []);
  const any = (kind: TermKind, test: (value: string, visitor: RecordedVisitor, visit: number) => boolean): VisitTest[] => {
    const values = of(kind);
    return values.length ? [(visitor, visit) => values.some((value) => test(value, visitor, visit))] : [];
  };
  const tests: VisitTest[] = [
    ...any('segment', (value, { id }) => isIn(value, id)),
    ...any('device', (value, { record }) => record.device?.category === value),
    ...any('source', (value, { record }, visit) => sourceIs(value, record.visits[visit]?.source)),
    ...any('place', (value, { record }, visit) => placeIs(value, record.visits[visit]?.location)),
    ...any('longer', (value, visitor, visit) => visitLength(visitor, visit) >= Number(value) * 1000),
    ...any('shorter', (value, visitor, visit) => visitLength(visitor, visit) <= Number(value) * 1000),
    ...any('outcome', outcomeIs),
    ...who.map(
      (people): VisitTest =>
        (visitor, visit) =>
          peopleHold(people, { ...asVisitEnded(visitor, visit), lookback: LONGEST_LOOKBACK_DAYS, ...known }) === true,
    ),
    ...all.map(
      (test): VisitTest =>
        ({ record }, visit) =>
          record.visits[visit]?.views.some(({ url }) => test(url)) ?? false,
    ),
  ];
  return (visitor, visit) => tests.every((test) => test(visitor, visit));
}

/** The visitor as the visit's last instant left them. */
function asVisitEnded(visitor: RecordedVisitor, visit: number): Pick<Subject, 'visitor' | 'now'> {
  const { record } = visitor;
  const now = (record.visits[visit]?.at ?? 0) + visitLength(visitor, visit);
  return { visitor: withProfile(record, record.visits.slice(0, visit + 1), now), now };
}

/** Does an address match a path with wildcards? */
export function pageTest(value: string): (url: string) => boolean {
  const known = new Map<string, boolean>();
  return (url) => {
    let holds = known.get(url);
    if (holds === undefined) known.set(url, (holds = patternHolds({ op: 'like', value }, { url }, {}) === true));
    return holds;
  };
}

export function sourceIs(value: string, source: Source | undefined): boolean {
  if (!source) return false;
  const wanted = value.toLowerCase();
  return [source.channel, source.referrer, source.utm.source, source.utm.campaign].some((one) => one?.toLowerCase() === wanted);
}

export function placeIs(value: string, location: Location | undefined): boolean {
  const { country, region, city } = location ?? {};
  const wanted = value.toLowerCase();
  return [country, region, city].some((one) => one?.toLowerCase() === wanted);
}

/** Responses are the visitor's: those between this visit's beginning and the next one's are of this visit. */
function outcomeIs(value: string, { record }: RecordedVisitor, visit: number): boolean {
  const [outcome, campaign] = splitOnce(value);
  const from = record.visits[visit]?.at ?? Infinity;
  const to = record.visits[visit + 1]?.at ?? Infinity;
  return record.responses.some(
    (one) => one.outcome === (outcome as Outcome) && one.at >= from && one.at < to && (campaign === undefined || one.campaign === campaign),
  );
}

function splitOnce(value: string): [string, string | undefined] {
  const colon = value.indexOf(':');
  return colon < 0 ? [value, undefined] : [value.slice(0, colon), value.slice(colon + 1)];
}

/** From the beginning of a visit to the last thing known of it, in ms. */
export function visitLength({ record, timelines }: RecordedVisitor, visit: number): number {
  const { at, views } = record.visits[visit] ?? { at: 0, views: [] };
  return views.reduce(
    (length, view, index) => Math.max(length, view.at - at + (timelines[visit]?.[index]?.leave ?? view.engaged * 1000)),
    0,
  );
}
