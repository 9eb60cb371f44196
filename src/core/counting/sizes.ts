import { DAY_MS } from '../history/visitor';
import type { SegmentBody } from '../people/subject';
import { withoutEach } from '../rehearsal/variants';
import type { Path } from '../rules/expr';
import type { CountingInput } from './countPeople';
import { judgeEveryone } from './countPeople';

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
  readonly line: readonly { readonly at: number; readonly people: number }[];
}

const members = (values: Uint8Array): number => values.reduce((sum, value) => sum + (value === 1 ? 1 : 0), 0);

/** A segment's size now, over the last days, and as a line over ninety days. */
export function segmentSizes(segment: SegmentBody, input: CountingInput): SegmentSizes {
  const { now } = input;
  const today = Math.floor(now / DAY_MS) * DAY_MS;
  const instants = [...Array.from({ length: LINE_DAYS }, (_, day) => today - (LINE_DAYS - 1 - day) * DAY_MS).filter((at) => at < now), now];
  const [in7, in30] = [new Uint8Array(input.records.length), new Uint8Array(input.records.length)];
  let unknown = 0;
  const line = instants.map((at) => {
    const values = judgeEveryone(segment, { ...input, now: at });
    values.forEach((value, number) => {
      if (value === 1 && at > now - 7 * DAY_MS) in7[number] = 1;
      if (value === 1 && at > now - 30 * DAY_MS) in30[number] = 1;
      if (value === 2 && at === now) unknown++;
    });
    return { at, people: members(values) };
  });
  return {
    now: line.at(-1)?.people ?? 0,
    unknown,
    in7Days: members(in7),
    in30Days: members(in30),
    isEstimate: { in7Days: true, in30Days: true },
    line,
  };
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
export function contributions(segment: SegmentBody, input: CountingInput): { path: Path; takes: number }[] {
  const all = members(judgeEveryone(segment, input));
  return withoutEach({ people: segment.people }).map(({ path, rule }) => {
    const without = rule.people === undefined ? { all: [] } : rule.people;
    return { path, takes: members(judgeEveryone({ ...segment, people: without }, input)) - all };
  });
}
