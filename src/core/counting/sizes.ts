import type { SegmentBody } from '../people/subject';
import { withoutEach } from '../rehearsal/variants';
import type { Path } from '../logic/expr';
import type { CountingInput } from './countPeople';
import { countMembers, judgeEveryone, prepare } from './countPeople';
import { Standing } from './standing';
import { DAY_MS } from '../time/day';

export const MOST_OVERLAPS = 20;
const LINE_DAYS = 90;

export interface SegmentSizes {
  readonly now: number;
  readonly unknown: number;
  /**
   * Visitors who were in the segment at some time in the last days. Looked at once a day, at midnight UTC, and now: who was
   * in it for less than a day may be missed, so these are estimates.
   */
  readonly in7Days: number;
  readonly in30Days: number;
  readonly isEstimate: { readonly in7Days: true; readonly in30Days: true };
  /** Members at each midnight (UTC) of the last 90 days, oldest first, and now. */
  readonly trend: readonly { readonly at: number; readonly people: number }[];
}

function members(values: Uint8Array): number {
  let count = 0;
  for (let number = 0; number < values.length; number++) if (values[number] === 1) count++;
  return count;
}

/** A segment's size now, over the last days, and as a line over ninety days. */
export function segmentSizes(segment: SegmentBody, input: CountingInput): SegmentSizes {
  let last: SegmentTrend | undefined;
  for (const line of segmentTrend(segment, input, LINE_DAYS)) last = line;
  const values = judgeEveryone(segment, input);
  return {
    now: members(values),
    unknown: values.reduce((sum, value) => sum + (value === 2 ? 1 : 0), 0),
    in7Days: last?.in7Days ?? 0,
    in30Days: last?.in30Days ?? 0,
    isEstimate: { in7Days: true, in30Days: true },
    trend: last?.trend ?? [],
  };
}

export type SegmentTrend = Pick<SegmentSizes, 'in7Days' | 'in30Days' | 'trend'>;

/** Midnights (UTC) of the last days, and now. Forwards, because what stands at one of them mostly stands at the next. */
function instantsOf(now: number, days: number): number[] {
  const today = Math.floor(now / DAY_MS) * DAY_MS;
  const midnights = Array.from({ length: days }, (_, day) => today - (days - 1 - day) * DAY_MS);
  return [...midnights.filter((at) => at < now), now];
}

/** The line over some days, day by day up to now, with what is known of the last 7 and 30 so far. */
export function* segmentTrend(segment: SegmentBody, input: CountingInput, days: number): Generator<SegmentTrend> {
  const { now } = input;
  const size = input.visits.visitors.reduce((most, visitor) => Math.max(most, visitor), 0) + 1;
  const [in7, in30] = [new Uint8Array(size), new Uint8Array(size)];
  const line: { at: number; people: number }[] = [];
  const standing = new Standing();
  for (const at of instantsOf(now, days)) {
    const values = judgeEveryone(segment, { ...input, now: at, standing });
    values.forEach((value, number) => {
      if (value === 1 && at > now - 7 * DAY_MS) in7[number] = 1;
      if (value === 1 && at > now - 30 * DAY_MS) in30[number] = 1;
    });
    line.push({ at, people: members(values) });
    yield { in7Days: members(in7), in30Days: members(in30), trend: [...line] };
  }
}

/** What a line says of a segment (by its place) at a midnight, where that is known already. */
export type KnownOfLine = (segment: number, at: number) => number | undefined;

/**
 * The lines of several segments together: now first, then day by day, each as far as it is known. What is worked out of a day serves them all;
 * where `known` says it, it is not.
 */
export function* segmentTrends(
  segments: readonly SegmentBody[],
  input: CountingInput,
  days: number,
  known: KnownOfLine = () => undefined,
): Generator<SegmentTrend['trend'][]> {
  prepare(segments, input);
  const now = segments.map((segment) => ({ at: input.now, people: countMembers(segment, input) }));
  const lines: { at: number; people: number }[][] = segments.map(() => []);
  const soFar = (): SegmentTrend['trend'][] => lines.map((line, index) => [...line, now[index] as { at: number; people: number }]);
  const standing = new Standing();
  const midnights = instantsOf(input.now, days).slice(0, -1);
  if (midnights.length === 0) yield soFar();
  for (const at of midnights) {
    const then = { ...input, now: at, standing };
    const said = segments.map((_, index) => known(index, at));
    const missing = segments.filter((_, index) => said[index] === undefined);
    if (missing.length > 0) prepare(missing, then);
    segments.forEach((segment, index) => lines[index]?.push({ at, people: said[index] ?? countMembers(segment, then) }));
    // Where nothing had to be worked out, nobody waits.
    if (missing.length > 0 || at === midnights.at(-1)) yield soFar();
  }
}

/** For each pair of at most 20 segments, how many visitors are surely in both; the diagonal is each one's own size. */
export function overlaps(segments: readonly SegmentBody[], input: CountingInput): number[][] {
  if (segments.length > MOST_OVERLAPS)
    throw new RangeError(`At most ${MOST_OVERLAPS} segments are compared at once, met ${segments.length}`);
  prepare(segments, input);
  const judged = segments.map((segment) => judgeEveryone(segment, input));
  return judged.map((one) =>
    judged.map((other) => one.reduce((sum, value, number) => sum + (value === 1 && other[number] === 1 ? 1 : 0), 0)),
  );
}

/** How many people there would be without each condition, less how many there are: what it takes (or, below 0, adds). */
export function contributions(segment: SegmentBody, input: CountingInput): { path: Path; change: number }[] {
  const all = members(judgeEveryone(segment, input));
  return withoutEach({ people: segment.people }).map(({ path, rule }) => {
    const without = rule.people === undefined ? { all: [] } : rule.people;
    return { path, change: members(judgeEveryone({ ...segment, people: without }, input)) - all };
  });
}
