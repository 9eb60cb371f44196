/** What came of putting two changes of one document together. */
export interface Merged<T> {
  readonly value: T;
  /** What both have changed, each by its way from the top; there `mine` stands. */
  readonly clashes: readonly (readonly string[])[];
}

/**
 * Puts together what two people made of the same JSON: what one of them left as it was is as the other made it, key by key, and in lists whose members have
 * an id member by member. What both changed, lists without ids, and things that became another kind, stand as `mine` has them and are told as clashes.
 */
export function mergeChanges<T>(base: T, mine: T, theirs: T): Merged<T> {
  const clashes: string[][] = [];
  const value = merge({ base, mine, theirs }, [], clashes);
  return { value: value as T, clashes };
}

interface Three {
  readonly base: unknown;
  readonly mine: unknown;
  readonly theirs: unknown;
}

type Json = Readonly<Record<string, unknown>>;
type Member = Json & { readonly id: string };

/** What tells one kind of thing from another: two of different kinds have no parts in common. */
const KINDS = ['kind', 'format', 'op'] as const;

function merge({ base, mine, theirs }: Three, path: string[], clashes: string[][]): unknown {
  if (isSame(mine, base)) return theirs;
  if (isSame(theirs, base) || isSame(mine, theirs)) return mine;
  if (isObject(mine) && isObject(theirs) && KINDS.every((kind) => mine[kind] === theirs[kind]))
    return mergeObjects({ base: isObject(base) ? base : {}, mine, theirs }, path, clashes);
  if (isList(mine) && isList(theirs)) return mergeLists({ base: isList(base) ? base : [], mine, theirs }, path, clashes);
  clashes.push(path);
  return mine;
}

function mergeObjects({ base, mine, theirs }: { base: Json; mine: Json; theirs: Json }, path: string[], clashes: string[][]): Json {
  const keys = [...new Set([...Object.keys(theirs), ...Object.keys(mine)])];
  const entries = keys.map((key) => [key, merge({ base: base[key], mine: mine[key], theirs: theirs[key] }, [...path, key], clashes)]);
  return Object.fromEntries(entries.filter(([, value]) => value !== undefined)) as Json;
}

function mergeLists(
  { base, mine, theirs }: { base: readonly Member[]; mine: readonly Member[]; theirs: readonly Member[] },
  path: string[],
  clashes: string[][],
): Member[] {
  const [was, own, other] = [base, mine, theirs].map((list) => new Map(list.map((member) => [member.id, member])));
  const mergeMember = (id: string): Member | undefined => {
    const three = { base: was?.get(id), mine: own?.get(id), theirs: other?.get(id) };
    // Taken out by one and changed by the other: a change is not lost.
    if (three.base && !three.mine && three.theirs && !isSame(three.theirs, three.base)) {
      clashes.push([...path, id]);
      return three.theirs;
    }
    if (three.base && !three.theirs && three.mine && !isSame(three.mine, three.base)) {
      clashes.push([...path, id]);
      return three.mine;
    }
    return merge(three, [...path, id], clashes) as Member | undefined;
  };
  return orderOf({ base, mine, theirs }).flatMap((id) => mergeMember(id) ?? []);
}

/** The order of whoever changed it, mine before theirs; what only the other has stands behind what it stood behind there. */
function orderOf({ base, mine, theirs }: { base: readonly Member[]; mine: readonly Member[]; theirs: readonly Member[] }): string[] {
  const idsOf = (list: readonly Member[]): string[] => list.map(({ id }) => id);
  const kept = idsOf(base).filter((id) => idsOf(mine).includes(id));
  const isMoved = !isSame(
    idsOf(mine).filter((id) => kept.includes(id)),
    kept,
  );
  const [order, rest] = isMoved ? [idsOf(mine), idsOf(theirs)] : [idsOf(theirs), idsOf(mine)];
  rest.forEach((id, nth) => {
    if (order.includes(id)) return;
    const before = rest.slice(0, nth).findLast((one) => order.includes(one));
    order.splice(before === undefined ? 0 : order.indexOf(before) + 1, 0, id);
  });
  return order;
}

const isObject = (value: unknown): value is Json => typeof value === 'object' && value !== null && !Array.isArray(value);

const isList = (value: unknown): value is readonly Member[] =>
  Array.isArray(value) &&
  value.every((one) => isObject(one) && typeof one['id'] === 'string') &&
  new Set(value.map((one: Member) => one.id)).size === value.length;

function isSame(one: unknown, other: unknown): boolean {
  if (one === other) return true;
  if (Array.isArray(one) && Array.isArray(other))
    return one.length === other.length && one.every((member, nth) => isSame(member, other[nth]));
  if (!isObject(one) || !isObject(other)) return false;
  const keys = new Set([...Object.keys(one), ...Object.keys(other)]);
  return [...keys].every((key) => isSame(one[key], other[key]));
}
