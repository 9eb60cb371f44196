// What the thread that counts and rehearses can be asked, and what it says.
import type { Split } from '@/core/campaigns/assign';
import type { Goal, SiteGoal } from '@/core/campaigns/campaign';
import type { Budget } from '@/core/pacing/pacing';
import type { CampaignToRehearse } from '@/core/rehearsal/rehearse';
import type { Rehearsed, RehearsedDays } from '@/core/rehearsal/rehearsed';
import type { PortfolioReport } from '@/core/rehearsal/portfolio';
import type { PageSets } from '@/core/pages/pattern';
import type { PeopleCondition } from '@/core/people/condition';
import type { SegmentBody } from '@/core/people/subject';
import type { Path } from '@/core/logic/expr';
import type { ForetoldDay } from '@/core/results/foretold';
import type { Dimension } from '@/core/results/report';
import type { Looks } from '@/core/results/span';
import type { WholeReport } from '@/core/results/whole';
import type { VisitTerm } from '@/core/visits/filter';

export type Task =
  /** Loads what a site's questions need, so that the first does not wait. */
  | { readonly kind: 'warm'; readonly site: number }
  | { readonly kind: 'size'; readonly site: number; readonly segment: SegmentBody }
  | { readonly kind: 'contributions'; readonly site: number; readonly segment: SegmentBody }
  | { readonly kind: 'trend'; readonly site: number; readonly segment: SegmentBody; readonly days: number }
  | { readonly kind: 'sizes'; readonly site: number; readonly segments: readonly SegmentBody[] }
  | { readonly kind: 'trends'; readonly site: number; readonly segments: readonly SegmentBody[]; readonly days: number }
  | { readonly kind: 'overlap'; readonly site: number; readonly segments: readonly SegmentBody[] }
  /** Visits begun by `asOf` (UTC ms) that meet the terms, newest first: `count` of them from the `from`th on. */
  | {
      readonly kind: 'visits';
      readonly site: number;
      readonly terms: readonly VisitTerm[];
      readonly asOf: number;
      readonly from: number;
      readonly count: number;
    }
  /** All of these, in this order and under this budget, at once. */
  | {
      readonly kind: 'portfolio';
      readonly site: number;
      readonly campaigns: readonly CampaignToRehearse[];
      readonly budget: Budget;
      readonly days: RehearsedDays;
    }
  /** The visits of the last days, as bytes to rehearse over. */
  | { readonly kind: 'recorded'; readonly site: number; readonly days: RehearsedDays }
  /** What people conditions say of each view of such a snapshot. */
  | {
      readonly kind: 'answers';
      readonly site: number;
      readonly days: RehearsedDays;
      readonly snapshot: string;
      readonly conditions: readonly PeopleCondition[];
    }
  /** Of the last whole days what the release in force gives over the recorded visits, beside what came. */
  | { readonly kind: 'foretold'; readonly site: number; readonly campaign: string; readonly days: RehearsedDays; readonly zone: string }
  /** How often a goal was reached since (UTC ms), by quarter of an hour, and by how many visitors. */
  | { readonly kind: 'reached'; readonly site: number; readonly goal: SiteGoal; readonly since: number; readonly now: number }
  /** What a campaign came to in a period. */
  | {
      readonly kind: 'results';
      readonly site: number;
      readonly campaign: string;
      readonly goal: Goal;
      readonly variants: readonly string[];
      /** By release, what was dealt out. */
      readonly splits: readonly (readonly [release: number, split: Split])[];
      readonly planned: number;
      readonly looks: Looks;
      readonly zone: string;
      /** UTC ms. */
      readonly from: number;
      readonly to: number;
      readonly now: number;
      readonly tables: readonly Dimension[];
      /** The difference to tell: 0.01 is one of a hundred. */
      readonly points?: number | undefined;
    }
  | {
      readonly kind: 'rehearse';
      readonly site: number;
      readonly campaign: CampaignToRehearse;
      readonly days: RehearsedDays;
      /** Live campaigns in the site's order; with them the budget counts. */
      readonly live: readonly CampaignToRehearse[];
    };

export interface Size {
  readonly people: number;
  readonly unknown: number;
  /** All visitors on record. */
  readonly of: number;
  /** Some members, the newest. */
  readonly sample: readonly number[];
}

export interface Trend {
  readonly in7Days: number;
  readonly in30Days: number;
  readonly trend: readonly { readonly at: number; readonly people: number }[];
}

export interface FoundVisits {
  readonly visits: number;
  readonly visitors: number;
  readonly ids: readonly string[];
}

export interface RecordedVisits {
  readonly snapshot: string;
  /** UTC ms. */
  readonly asOf: number;
  /** `encodeColumns`, and each visit's UUID in 16 bytes, gzipped; undefined where there are too many visits to send. */
  readonly columns: Uint8Array | undefined;
  readonly ids: Uint8Array | undefined;
}

export interface Answered {
  /** False where the snapshot is no longer kept. */
  readonly isHere: boolean;
  /** Changes with every segment, page set and place; answers are only as good as that. */
  readonly known: string;
  readonly sets: PageSets;
  readonly budget: Budget;
  /** `packAnswers`, for each condition asked; null where its answer changes at instants that nobody can foretell. */
  readonly answers: readonly (Uint8Array | null)[];
}

export interface TaskAnswers {
  warm: { ready: true };
  size: Size;
  contributions: readonly { readonly path: Path; readonly change: number }[];
  trend: Trend;
  sizes: readonly Size[];
  trends: readonly Trend['trend'][];
  overlap: number[][];
  visits: FoundVisits;
  portfolio: PortfolioReport;
  recorded: RecordedVisits;
  answers: Answered;
  rehearse: Rehearsed;
  reached: { readonly quarters: readonly (readonly [quarter: number, times: number])[]; readonly visitors: number };
  results: WholeReport;
  foretold: readonly ForetoldDay[];
}
export type AnswerTo<T extends Task> = TaskAnswers[T['kind']];

export type ToThread = { readonly id: number; readonly task: Task } | { readonly id: number; readonly cancel: true };
export type FromThread =
  | { readonly id: number; readonly part: unknown; readonly isLast: boolean }
  | { readonly id: number; readonly failed: string }
  // It takes a step at a time, and says between them that it does.
  | { readonly isAlive: true };
