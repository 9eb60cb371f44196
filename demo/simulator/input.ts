import type { PieceItem } from '@/core/wire/items';

type Signal = PieceItem['signals'][number];

/** As the page script thins input: at once after a pause of this length, */
const EVERY_MS = 5000;
/** and once more for the last of a burst, when nothing has come for this long. */
const SETTLE_MS = 2500;
/** What happens within one frame is measured once. */
export const FRAME_MS = 17;

/**
 * Puts the `input` signals into a timeline that the page script would have recorded: everything that somebody does by hand
 * (scrolling, clicking, moving to leave, and `moves`, in ms since the opening) is input. `signals` are in order of time.
 */
export function withInput(signals: readonly Signal[], moves: readonly number[], leaveMs: number): Signal[] {
  const byHand = signals.flatMap(({ t, s }) => (s === 'scroll' || s === 'click' || s === 'exit' ? [t] : []));
  const reports: { signal: Signal; reportedAt: number }[] = signals.map((signal) => ({ signal, reportedAt: signal.t }));
  const latestBefore = (at: number): number => signals.findLast(({ t }) => t <= at)?.t ?? 0;
  let emittedAt = -Infinity;
  let lastAt = -Infinity;
  const settle = (until: number): void => {
    const at = lastAt + SETTLE_MS;
    if (lastAt <= emittedAt || at >= until) return;
    emittedAt = lastAt;
    reports.push({ signal: { t: Math.max(lastAt, latestBefore(at)), s: 'input' }, reportedAt: at });
  };
  for (const at of [...moves, ...byHand].sort((a, b) => a - b)) {
    settle(at);
    lastAt = at;
    if (at - emittedAt < EVERY_MS) continue;
    emittedAt = at;
    reports.push({ signal: { t: at, s: 'input' }, reportedAt: at });
  }
  settle(leaveMs);
  // The hand moves before anything comes of it.
  return reports
    .sort((a, b) => a.reportedAt - b.reportedAt || Number(b.signal.s === 'input') - Number(a.signal.s === 'input'))
    .map(({ signal }) => signal);
}
