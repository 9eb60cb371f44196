import type { Outcome } from '../history/visitor';
import type { PacingRecord } from '../pacing/pacing';
import { emptyPacing, noteOutcome, noteShowing } from '../pacing/pacing';
import type { RehearsalInput } from '../rehearsal/rehearse';
import { rehearseInSteps } from '../rehearsal/rehearse';
import { dayIn } from './report';

/** A campaign met, as it was recorded. Instants are UTC ms. */
export interface RecordedMeeting {
  readonly visitor: number;
  readonly at: number;
  readonly release: number;
}

/** What is on record of a visitor for pacing: what they met before the first rehearsed visit, and what they answered whenever. In time order. */
export interface Past {
  readonly met: readonly { readonly at: number; readonly campaign: string }[];
  readonly answered: readonly { readonly at: number; readonly campaign: string; readonly outcome: Outcome }[];
}

/** Why a day came otherwise than it was foretold: how many meetings each reason has to do with. */
export interface Differences {
  /** Met under another release than the one that was rehearsed. */
  readonly otherRelease: number;
  /** Foretold for the last moment of a page view: it was left before the page script had its answer. */
  readonly leftAtOnce: number;
  /** Came after another message in the same place had been closed, which a rehearsal leaves open. */
  readonly closedEarlier: number;
  /** Foretold and did not come, and the other way round, with no such reason. */
  readonly missing: number;
  readonly unforeseen: number;
}

export interface ForetoldDay {
  /** Calendar day: "2026-11-27". */
  readonly day: string;
  readonly rehearsed: number;
  readonly met: number;
  /** Where these differ by more than two of a hundred. */
  readonly because: Differences | null;
}

/** A moment foretold for so little time before the page was left, in ms, needs no answer that came late. */
const AT_ONCE_MS = 1500;
/** The page script's clock and the recording's agree to this, in ms. */
const SAME_MS = 2000;
const AGREED = 0.02;

/**
 * Of every whole day what the rules in force give over its recorded visits, beside what came of it. All campaigns are played together, as they decide
 * on pages, and what visitors really answered is taken as answered. `from` and `to`: UTC ms, of days to tell; only whole days between them are told.
 */
export function* foretell(
  input: Omit<RehearsalInput, 'unknownShows' | 'pacing'>,
  {
    campaign,
    met,
    pastOf,
    release,
    zone,
    from,
    to,
  }: {
    campaign: string;
    /** Everybody’s meetings with the campaign, in any order. */
    met: readonly RecordedMeeting[];
    /** By visitor number. */
    pastOf: (visitor: number) => Past;
    /** The release that is rehearsed. */
    release: number;
    zone: string;
    from: number;
    to: number;
  },
): Generator<undefined, ForetoldDay[]> {
  const { columns } = input;
  const [first, last] = [dayIn(zone, from), dayIn(zone, to)];
  const isWhole = (day: string): boolean => day > first && day < last;
  const days = new Map<string, { rehearsed: Foretold[]; met: RecordedMeeting[] }>();
  const of = (at: number) => {
    const day = dayIn(zone, at);
    const found = days.get(day) ?? { rehearsed: [], met: [] };
    days.set(day, found);
    return found;
  };
  const others = new Map<number, number[]>();
  const visitorOf = new Uint32Array(columns.visitAt.length);
  for (let nth = 0; nth < columns.visitor.length; nth++)
    visitorOf.fill(columns.visitor[nth] as number, columns.firstVisit[nth], columns.firstVisit[nth + 1]);
  const pacing = (visitor: number): ReturnType<typeof pacingOf> => pacingOf(pastOf(columns.visitor[visitor] as number));
  yield* rehearseInSteps({ ...input, pacing }, ({ campaign: id, visit, view, at }) => {
    const visitor = visitorOf[visit] as number;
    if (id === campaign) of(at).rehearsed.push({ visitor, at, left: (columns.viewAt[view] as number) + (columns.leave[view] as number) });
    else others.set(visitor, [...(others.get(visitor) ?? []), at]);
  });
  for (const meeting of met) of(meeting.at).met.push(meeting);
  return [...days]
    .filter(([day]) => isWhole(day))
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([day, told]): ForetoldDay => {
      const [rehearsed, came] = [told.rehearsed.length, told.met.length];
      const isOff = Math.abs(rehearsed - came) > AGREED * Math.max(rehearsed, came);
      return { day, rehearsed, met: came, because: isOff ? differences(told, { release, others }) : null };
    });
}

interface Foretold {
  readonly visitor: number;
  readonly at: number;
  /** When the page view was left, UTC ms. */
  readonly left: number;
}

function differences(
  { rehearsed, met }: { rehearsed: readonly Foretold[]; met: readonly RecordedMeeting[] },
  { release, others }: { release: number; others: ReadonlyMap<number, readonly number[]> },
): Differences {
  const open = new Map<number, RecordedMeeting[]>();
  for (const meeting of met) open.set(meeting.visitor, [...(open.get(meeting.visitor) ?? []), meeting]);
  let [leftAtOnce, missing] = [0, 0];
  for (const { visitor, at, left } of rehearsed) {
    const same = open.get(visitor)?.find((one) => Math.abs(one.at - at) <= SAME_MS);
    if (same) open.set(visitor, open.get(visitor)?.filter((one) => one !== same) ?? []);
    else if (left - at < AT_ONCE_MS) leftAtOnce++;
    else missing++;
  }
  let [otherRelease, closedEarlier, unforeseen] = [0, 0, 0];
  for (const { visitor, at, release: under } of [...open.values()].flat())
    if (under !== release) otherRelease++;
    else if (others.get(visitor)?.some((other) => other < at && at - other < HOUR_MS)) closedEarlier++;
    else unforeseen++;
  return { otherRelease, leftAtOnce, closedEarlier, missing, unforeseen };
}

const HOUR_MS = 3_600_000;

/** A visitor's pacing as it stood when the rehearsed days began, and what takes in their answers as time goes on. */
export function pacingOf({ met, answered }: Past): { record: PacingRecord; until: (at: number) => void } {
  const record = emptyPacing(0);
  for (const { at, campaign } of met) noteShowing(record, campaign, at);
  let next = 0;
  return {
    record,
    until: (at) => {
      for (let answer = answered[next]; answer && answer.at <= at; answer = answered[++next])
        noteOutcome(record, answer.campaign, answer.outcome);
    },
  };
}
