// Which two conditions can never hold together. Sound and not complete: what is found is certain.
import type { Moment } from '../moments/moment';
import { anyPatternHolds } from '../pages/pages';
import type { PagePattern } from '../pages/pattern';
import { covers } from '../pages/covers';
import type { PeopleCondition } from '../people/condition';
import { calendarsMeet } from '../people/kinds/calendarWeek';
import { intervalsOf, overlap } from './intervals';
import type { Literal } from './literals';
import type { Range } from './range';
import type { TextTest, ValueTest } from './valueTest';
import { isoInstant, textHolds } from './valueTest';

type People = Literal<PeopleCondition>;
type Of<K extends PeopleCondition['kind']> = Extract<PeopleCondition, { kind: K }>;

/** Can the two never hold together? Says why; undefined if nothing is known against it. */
export function peopleContradict(a: People, b: People): string | undefined {
  const same = sameCondition(a.leaf, b.leaf);
  if (same && a.negated !== b.negated) return 'The same condition is asked for and ruled out.';
  if (a.leaf.kind !== b.leaf.kind) return undefined;
  return quantitiesContradict(a, b) ?? listsContradict(a, b) ?? textsContradict(a, b) ?? factsContradict(a, b) ?? calendarsContradict(a, b);
}

/** Can the condition never hold by itself? `now` is UTC ms. */
export function peopleImpossible({ leaf, negated }: People, now: number): string | undefined {
  const range = rangeOf(leaf);
  if (range && !(negated && mayLack(leaf)) && intervalsOf(range, { negated, isWhole: isCount(leaf), least: leastOf(leaf) }).length === 0)
    return 'No number can be in this range.';
  if (leaf.kind === 'calendar' && !negated && leaf.until && (isoInstant(leaf.until) ?? Infinity) <= now)
    return `The calendar ended ${leaf.until.slice(0, 10)}.`;
  if (leaf.kind === 'location' && !negated && !leaf.countries && !leaf.regions && !leaf.cities && !leaf.places?.length)
    return 'No country, region, city or place is named.';
  return undefined;
}

const sameCondition = (a: object, b: object): boolean => JSON.stringify(a) === JSON.stringify(b);

function rangeOf(leaf: PeopleCondition): Range | undefined {
  switch (leaf.kind) {
    case 'viewed':
    case 'did':
    case 'read':
    case 'response':
      return leaf.times ?? { min: 1 };
    case 'visits':
      return leaf.times;
    case 'engaged':
      return leaf.seconds;
    case 'away':
    case 'firstSeen':
      return leaf.days;
    case 'score':
      return leaf.points;
    default:
      return undefined;
  }
}

const isCount = ({ kind }: PeopleCondition): boolean => ['viewed', 'did', 'read', 'response', 'visits'].includes(kind);
/** Some visitors have no such quantity: whoever came once was never away. To rule a range out is then no claim about a number. */
const mayLack = ({ kind }: PeopleCondition): boolean => kind === 'away';
const leastOf = ({ kind }: PeopleCondition): number => (kind === 'score' ? -Infinity : kind === 'visits' ? 0 : 0);

/** The same quantity in ranges that exclude each other, or a part that would be more than its whole. */
function quantitiesContradict(a: People, b: People): string | undefined {
  const [first, second] = [rangeOf(a.leaf), rangeOf(b.leaf)];
  if (!first || !second || (a.negated && b.negated && mayLack(a.leaf))) return undefined;
  const of = ({ leaf, negated }: People, range: Range) => intervalsOf(range, { negated, isWhole: isCount(leaf), least: leastOf(leaf) });
  const [ours, theirs] = [of(a, first), of(b, second)];
  if (isPartOf(a.leaf, b.leaf) && isPartOf(b.leaf, a.leaf) && !overlap(ours, theirs)) return 'The two ranges exclude each other.';
  const leastOfA = Math.min(...ours.map(({ min }) => min));
  const leastOfB = Math.min(...theirs.map(({ min }) => min));
  const mostOfA = Math.max(...ours.map(({ max }) => max));
  const mostOfB = Math.max(...theirs.map(({ max }) => max));
  if ((isPartOf(a.leaf, b.leaf) && leastOfA > mostOfB) || (isPartOf(b.leaf, a.leaf) && leastOfB > mostOfA))
    return 'One asks for more than the other allows at all.';
  return undefined;
}

/** Is what `part` counts always counted by `whole` too? Lookbacks that are not written out are the same for both. */
function isPartOf(part: PeopleCondition, whole: PeopleCondition): boolean {
  if (part.kind === 'viewed' && whole.kind === 'viewed') return isShorter(part.within, whole.within) && arePartOf(part.pages, whole.pages);
  if (part.kind === 'engaged' && whole.kind === 'engaged')
    return isShorter(part.within, whole.within) && arePartOf(part.pages, whole.pages);
  if (part.kind === 'read' && whole.kind === 'read')
    return isShorter(part.within, whole.within) && arePartOf(part.pages, whole.pages) && part.scroll >= whole.scroll;
  if (part.kind === 'visits' && whole.kind === 'visits') return isShorter(part.within, whole.within);
  if (part.kind === 'did' && whole.kind === 'did')
    return (
      part.event === whole.event &&
      isShorter(part.within, whole.within) &&
      (!whole.where?.length || sameCondition(whole.where, part.where ?? []))
    );
  if (part.kind === 'response' && whole.kind === 'response')
    return part.campaign === whole.campaign && part.outcome === whole.outcome && isShorter(part.within, whole.within);
  return part.kind === whole.kind && ['away', 'firstSeen', 'score'].includes(part.kind);
}

function isShorter(a: number | 'visit' | undefined, b: number | 'visit' | undefined): boolean {
  if (a === b) return true;
  return typeof a === 'number' && typeof b === 'number' && a <= b;
}

function arePartOf(part: readonly PagePattern[] | undefined, whole: readonly PagePattern[] | undefined): boolean {
  if (!whole?.length) return true;
  return !!part?.length && part.every((one) => whole.some((other) => covers(other, one)));
}

/** Lists of what may be (device, channel, weather …) that have nothing in common. */
function listsContradict(a: People, b: People): string | undefined {
  if (a.negated || b.negated) return undefined;
  const pairs = listPairs(a.leaf, b.leaf);
  return pairs.some(([one, two]) => one && two && !one.some((value) => two.includes(value)))
    ? 'The two have nothing in common.'
    : undefined;
}

type Lists = readonly (readonly [readonly string[] | undefined, readonly string[] | undefined])[];

function listPairs(a: PeopleCondition, b: PeopleCondition): Lists {
  const lower = (list: readonly string[] | undefined) => list?.map((one) => one.toLowerCase());
  if (a.kind === 'device' && b.kind === 'device') {
    return [
      [a.category, b.category],
      [lower(a.os), lower(b.os)],
      [lower(a.browser), lower(b.browser)],
    ];
  }
  if (a.kind === 'weather' && b.kind === 'weather') return [[a.is, b.is]];
  if (a.kind === 'source' && b.kind === 'source') {
    const sameVisit = (a.of ?? 'visit') === (b.of ?? 'visit') && a.of !== 'ever';
    return sameVisit ? [[a.channel, b.channel]] : [];
  }
  if (a.kind === 'location' && b.kind === 'location') {
    const only = ({ countries, regions, cities, places }: Of<'location'>) => (regions || cities || places ? undefined : countries);
    return [[only(a), only(b)]];
  }
  return [];
}

function factsContradict(a: People, b: People): string | undefined {
  const said = ({ leaf, negated }: People): boolean | undefined =>
    leaf.kind === 'known' || leaf.kind === 'team' || leaf.kind === 'adBlocker' || leaf.kind === 'staffed' ? leaf.is !== negated : undefined;
  const [one, two] = [said(a), said(b)];
  return one !== undefined && two !== undefined && one !== two ? 'One asks for the opposite of the other.' : undefined;
}

function textsContradict(a: People, b: People): string | undefined {
  const [one, two] = [testOf(a.leaf), testOf(b.leaf)];
  if (!one || !two || one.of !== two.of) return undefined;
  if (excludes(one.test, a.negated, two.test, b.negated) || excludes(two.test, b.negated, one.test, a.negated))
    return 'No value can pass both tests.';
  return undefined;
}

function testOf(leaf: PeopleCondition): { of: string; test: ValueTest } | undefined {
  if (leaf.kind === 'cookie') return { of: leaf.name, test: leaf.test };
  return leaf.kind === 'trait' ? { of: leaf.key, test: leaf.test } : undefined;
}

const isText = (test: ValueTest): test is TextTest => test.op !== 'range' && test.op !== 'daysAgo';

/** Does every value that passes the first test fail the second? Known where the first names its values, or for two ranges. */
function excludes(first: ValueTest, firstNegated: boolean, second: ValueTest, secondNegated: boolean): boolean {
  if (firstNegated) return false;
  if (!isText(first) || !isText(second)) {
    return (
      first.op === 'range' &&
      second.op === 'range' &&
      !overlap(intervalsOf(first, { negated: false, isWhole: false }), intervalsOf(second, { negated: secondNegated, isWhole: false })) &&
      !secondNegated
    );
  }
  const values = first.op === 'is' ? [first.value] : first.op === 'oneOf' ? first.value : undefined;
  return values !== undefined && values.every((value) => textHolds(value, second) === secondNegated);
}

function calendarsContradict(a: People, b: People): string | undefined {
  if (a.leaf.kind !== 'calendar' || b.leaf.kind !== 'calendar' || a.negated || b.negated) return undefined;
  const [from, until] = [a.leaf.from, b.leaf.until].map((text) => (text === undefined ? undefined : isoInstant(text)));
  const [from2, until2] = [b.leaf.from, a.leaf.until].map((text) => (text === undefined ? undefined : isoInstant(text)));
  if ((from !== undefined && until !== undefined && from >= until) || (from2 !== undefined && until2 !== undefined && from2 >= until2))
    return 'One calendar begins when the other is over.';
  return calendarsMeet(a.leaf, b.leaf) ? undefined : 'The two calendars have no hour of the week in common.';
}

type MomentLiteral = Literal<Moment>;

export function momentsContradict(a: MomentLiteral, b: MomentLiteral): string | undefined {
  if (sameCondition(a.leaf, b.leaf) && a.negated !== b.negated) return 'The same moment is asked for and ruled out.';
  const [wanted, ruledOut] = a.negated ? [b, a] : [a, b];
  if (wanted.negated || !ruledOut.negated) return undefined;
  return implies(wanted.leaf, ruledOut.leaf) ? 'When the one has come, the other has come too, and it is ruled out.' : undefined;
}

export const momentImpossible = ({ leaf, negated }: MomentLiteral): string | undefined =>
  negated && (leaf.kind === 'open' || (leaf.kind === 'delay' && leaf.seconds === 0)) ? 'The page is always open by then.' : undefined;

/** Whenever the first is true, is the second true as well? */
function implies(first: Moment, second: Moment): boolean {
  if (second.kind === 'open') return true;
  if (first.kind === 'scroll' && second.kind === 'scroll') return first.atLeast >= second.atLeast;
  if (first.kind === 'clicks' && second.kind === 'clicks') return first.atLeast >= second.atLeast && (first.of ?? 'page') !== 'visit';
  if (first.kind === 'delay' && second.kind === 'delay') {
    // Engaged time never runs ahead of open time, nor a page's clock ahead of its visit's.
    const isNarrower = (first.of ?? 'page') === (second.of ?? 'page') || (first.of ?? 'page') === 'page';
    const isSlower = (first.counting ?? 'open') === (second.counting ?? 'open') || second.counting !== 'engaged';
    return first.seconds >= second.seconds && isNarrower && isSlower;
  }
  if (first.kind === 'visible' && second.kind === 'visible') {
    return first.selector === second.selector && first.share >= second.share && (first.seconds ?? 0) >= (second.seconds ?? 0);
  }
  return false;
}

/** Is every page that the pattern can match excepted? */
export function isExcepted(pattern: PagePattern, except: readonly PagePattern[]): boolean {
  if (except.some((other) => covers(other, pattern))) return true;
  if ('set' in pattern || (pattern.part ?? 'path') !== 'path' || pattern.op !== 'is') return false;
  const plain = except.filter((other) => !('set' in other) && (other.part ?? 'path') === 'path');
  return anyPatternHolds(plain, { url: `https://site.example${encodeURI(pattern.value ?? '')}` }, {}) === true;
}
