// Which two conditions can never hold together. Sound and not complete: what is found is certain.
import type { Moment } from '../moments/moment';
import { momentKindOf } from '../moments/moment';
import { anyPatternHolds } from '../pages/pages';
import type { PagePattern } from '../pages/pattern';
import { covers } from '../pages/covers';
import type { PeopleCondition } from '../people/condition';
import { kindOf } from '../people/condition';
import type { Reasoning } from '../people/kind';
import { intervalsOf, overlap } from '../logic/intervals';
import type { Literal } from '../logic/literals';
import type { TextTest, ValueTest } from '../logic/valueTest';
import { textHolds } from '../logic/valueTest';

type People = Literal<PeopleCondition>;

/** Can the two never hold together? Says why; undefined if nothing is known against it. */
export function peopleContradict(a: People, b: People): string | undefined {
  const same = sameCondition(a.leaf, b.leaf);
  if (same && a.negated !== b.negated) return 'The same condition is asked for and ruled out.';
  if (a.leaf.kind !== b.leaf.kind) return undefined;
  const { reasoning } = kindOf(a.leaf);
  const isPlain = !a.negated && !b.negated;
  return (
    quantitiesContradict(a, b, reasoning.quantity) ??
    (isPlain && reasoning.lists?.(a.leaf, b.leaf).some(([one, two]) => one && two && !one.some((value) => two.includes(value)))
      ? 'The two have nothing in common.'
      : undefined) ??
    (reasoning.test && textsContradict(reasoning.test(a.leaf), a.negated, reasoning.test(b.leaf), b.negated)) ??
    (reasoning.says && (reasoning.says(a.leaf) !== a.negated) !== (reasoning.says(b.leaf) !== b.negated)
      ? 'One asks for the opposite of the other.'
      : undefined) ??
    (isPlain ? reasoning.contradict?.(a.leaf, b.leaf) : undefined)
  );
}

/** Can the condition never hold by itself? `now` is UTC ms. */
export function peopleImpossible({ leaf, negated }: People, now: number): string | undefined {
  const { quantity, impossible } = kindOf(leaf).reasoning;
  if (quantity && !(negated && quantity.mayLack) && intervals(quantity, { leaf, negated }).length === 0)
    return 'No number can be in this range.';
  return negated ? undefined : impossible?.(leaf, now);
}

const sameCondition = (a: object, b: object): boolean => JSON.stringify(a) === JSON.stringify(b);

type Quantity = NonNullable<Reasoning<PeopleCondition>['quantity']>;
const intervals = ({ range, isWhole, least }: Quantity, { leaf, negated }: Pick<People, 'leaf' | 'negated'>) =>
  intervalsOf(range(leaf), { negated, isWhole, least });

/** The same quantity in ranges that exclude each other, or a part that would be more than its whole. */
function quantitiesContradict(a: People, b: People, quantity: Quantity | undefined): string | undefined {
  if (!quantity || (a.negated && b.negated && quantity.mayLack)) return undefined;
  const [ours, theirs] = [intervals(quantity, a), intervals(quantity, b)];
  const { isPartOf } = quantity;
  if (isPartOf(a.leaf, b.leaf) && isPartOf(b.leaf, a.leaf) && !overlap(ours, theirs)) return 'The two ranges exclude each other.';
  const leastOfA = Math.min(...ours.map(({ min }) => min));
  const leastOfB = Math.min(...theirs.map(({ min }) => min));
  const mostOfA = Math.max(...ours.map(({ max }) => max));
  const mostOfB = Math.max(...theirs.map(({ max }) => max));
  if ((isPartOf(a.leaf, b.leaf) && leastOfA > mostOfB) || (isPartOf(b.leaf, a.leaf) && leastOfB > mostOfA))
    return 'One asks for more than the other allows at all.';
  return undefined;
}

type Tested = ReturnType<NonNullable<Reasoning<PeopleCondition>['test']>>;

function textsContradict(one: Tested, oneNegated: boolean, two: Tested, twoNegated: boolean): string | undefined {
  if (one.of !== two.of) return undefined;
  return excludes(one.test, oneNegated, two.test, twoNegated) || excludes(two.test, twoNegated, one.test, oneNegated)
    ? 'No value can pass both tests.'
    : undefined;
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

type MomentLiteral = Literal<Moment>;

export function momentsContradict(a: MomentLiteral, b: MomentLiteral): string | undefined {
  if (sameCondition(a.leaf, b.leaf) && a.negated !== b.negated) return 'The same moment is asked for and ruled out.';
  const [wanted, ruledOut] = a.negated ? [b, a] : [a, b];
  if (wanted.negated || !ruledOut.negated) return undefined;
  return momentImplies(wanted.leaf, ruledOut.leaf) ? 'When the one has come, the other has come too, and it is ruled out.' : undefined;
}

export const momentImpossible = ({ leaf, negated }: MomentLiteral): string | undefined =>
  negated && momentKindOf(leaf).isAlways(leaf) ? 'The page is always open by then.' : undefined;

/** Whenever the first is true of a visitor, is the second true as well? Certain where it says so. */
export function conditionImplies(first: PeopleCondition, second: PeopleCondition): boolean {
  if (first.kind !== second.kind) return false;
  const { quantity, lists } = kindOf(first).reasoning;
  if (quantity) {
    const [ours, theirs] = [quantity.range(first), quantity.range(second)];
    // A part that is at least so much makes its whole so much; a whole that is at most so much its parts.
    const isLess = theirs.max === undefined || (ours.max !== undefined && ours.max <= theirs.max && quantity.isPartOf(second, first));
    const isMore = theirs.min === undefined || (ours.min !== undefined && ours.min >= theirs.min && quantity.isPartOf(first, second));
    return isLess && isMore;
  }
  const pairs = lists?.(first, second) ?? [];
  return (
    pairs.length > 0 &&
    onlyLists(
      first,
      pairs.map(([one]) => one),
    ) &&
    onlyLists(
      second,
      pairs.map(([, two]) => two),
    ) &&
    pairs.every(([one, two]) => two === undefined || (one !== undefined && one.every((value) => two.includes(value))))
  );
}

/** Does the condition ask for nothing but these lists? */
function onlyLists(condition: PeopleCondition, lists: readonly (readonly string[] | undefined)[]): boolean {
  const asked = Object.entries(condition).filter(
    ([key, part]) => key !== 'kind' && part !== undefined && !(key === 'of' && part === 'visit'),
  );
  return asked.length > 0 && asked.length === lists.filter((list) => list !== undefined).length;
}

/** Whenever the first is true, is the second true as well? */
export const momentImplies = (first: Moment, second: Moment): boolean =>
  second.kind === 'open' || (first.kind === second.kind && momentKindOf(first).implies(first, second));

/** Is every page that the pattern can match excepted? */
export function isExcepted(pattern: PagePattern, except: readonly PagePattern[]): boolean {
  if (except.some((other) => covers(other, pattern))) return true;
  if ('set' in pattern || (pattern.part ?? 'path') !== 'path' || pattern.op !== 'is') return false;
  const plain = except.filter((other) => !('set' in other) && (other.part ?? 'path') === 'path');
  return anyPatternHolds(plain, { url: `https://site.example${encodeURI(pattern.value ?? '')}` }, {}) === true;
}
