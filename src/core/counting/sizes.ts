import type { SegmentBody } from '../people/subject';
import { withoutEach } from '../rehearsal/variants';
import type { Path } from '../logic/expr';
import type { CountingInput } from './countPeople';
import { judgeEveryone } from './countPeople';
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

const members = (values: Uint8Array): number => values.reduce((sum, value) => sum + (value === 1 ? 1 : 0), 0);

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

/** The line over some days, day by day from today backwards, with what is known of the last 7 and 30 so far. */
export function* segmentTrend(segment: SegmentBody, input: CountingInput, days: number): Generator<SegmentTrend> {
  const { now } = input;
  const today = Math.floor(now / DAY_MS) * DAY_MS;
  const instants = [now, ...Array.from({ length: days }, (_, day) => today - day * DAY_MS).filter((at) => at < now)];
  const size = input.visits.visitors.reduce((most, visitor) => Math.max(most, visitor), 0) + 1;
  const [in7, in30] = [new Uint8Array(size), new Uint8Array(size)];
  const line: { at: number; people: number }[] = [];
  for (const at of instants) {
    const values = judgeEveryone(segment, at === now ? input : { ...input, now: at });
    values.forEach((value, number) => {
      if (value === 1 && at > now - 7 * DAY_MS) in7[number] = 1;
      if (value === 1 && at > now - 30 * DAY_MS) in30[number] = 1;
    });
    line.unshift({ at, people: members(values) });
    yield { in7Days: members(in7), in30Days: members(in30), trend: [...line] };
  }
}

/** The lines of several segments together, day by day from today backwards: what is worked out of a day serves them all. */
export function* segmentTrends(segments: readonly SegmentBody[], input: CountingInput, days: number): Generator<SegmentTrend['trend'][]> {
  const { now } = input;
  const today = Math.floor(now / DAY_MS) * DAY_MS;
  const lines: { at: number; people: number }[][] = segments.map(() => []);
  for (const at of [now, ...Array.from({ length: days }, (_, day) => today - day * DAY_MS).filter((one) => one < now)]) {
    const then = at === now ? input : { ...input, now: at };
    segments.forEach((segment, index) => lines[index]?.unshift({ at, people: members(judgeEveryone(segment, then)) }));
    yield lines.map((line) => [...line]);
  }
}

/** For each pair of at most 20 segments, how many visitors are surely in both; the diagonal is each one's own size. */
export function overlaps(segments: readonly SegmentBody[], input: CountingInput): number[][] {
  if (segments.length > MOST_OVERLAPS)
    throw new RangeError(`At most ${MOST_OVERLAPS} segments are compared at once, met ${segments.length}`);
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
