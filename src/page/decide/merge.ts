import type { PacingRecord } from '@/core/pacing/pacing';
import { recordOf } from '@/core/pacing/pacing';
import type { DecisionContext } from '@/core/wire/items';

/** What the server remembers counts too: this browser's storage may have been cleared. The higher number wins. */
export function mergePacing(record: PacingRecord, recorded: DecisionContext['pacing']): void {
  for (const [campaign, theirs] of Object.entries(recorded.campaigns)) {
    const ours = recordOf(record, campaign);
    ours.shown = Math.max(ours.shown, theirs.shown);
    ours.dismissed = Math.max(ours.dismissed, theirs.dismissed);
    ours.converted = Math.max(ours.converted, theirs.converted);
    ours.lastAt = latest(ours.lastAt, theirs.lastAt);
  }
  record.lastAt = latest(record.lastAt, recorded.lastAt);
}

function latest(a: number | undefined, b: number | undefined): number | undefined {
  return a === undefined ? b : Math.max(a, b ?? a);
}
