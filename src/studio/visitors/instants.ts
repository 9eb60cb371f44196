import type { RecordedVisit } from '@/server/db/visits';
import { foldedIn } from '../ribbon/layout';

/** An instant of a visit at which something happened. */
export interface Instant {
  readonly view: string;
  /** ms since the page opened. */
  readonly t: number;
  /** Where it stands on the ribbon. */
  readonly folded: number;
  readonly words: string;
  readonly path: string;
  readonly isShowing: boolean;
  readonly isScroll: boolean;
}

/** Every instant of a visit worth asking about: openings, signals, showings and leavings, in order. */
export function instantsOf({ views, showings }: Pick<RecordedVisit, 'views' | 'showings'>): Instant[] {
  const folds = foldedIn(views);
  return views.flatMap((view, index) => {
    const next = views[index + 1];
    const path = URL.canParse(view.url) ? new URL(view.url).pathname : view.url;
    const at = (t: number, words: string, { isShowing = false, isScroll = false } = {}): Instant => ({
      view: view.id,
      t,
      folded: folds[index]?.(t) ?? 0,
      words,
      path,
      isShowing,
      isScroll,
    });
    const shown = showings
      .filter((one) => one.at >= view.at && (!next || one.at < next.at))
      .map((one) => at(one.at - view.at, `${one.name} showed`, { isShowing: true }));
    const signals = view.signals.flatMap((signal) => {
      if (signal.s === 'input' || signal.s === 'seen' || signal.t > view.leave) return [];
      return [at(signal.t, wordsOf(signal), { isScroll: signal.s === 'scroll' })];
    });
    const all = [at(0, 'opened'), ...signals, ...shown, at(view.leave, 'left')].sort((a, b) => a.t - b.t);
    // What is of one instant is asked about once, and a showing is what matters most of it.
    return all.filter(
      (one, nth) =>
        !all.some(
          (other, place) => other.t === one.t && place !== nth && (other.isShowing !== one.isShowing ? other.isShowing : place < nth),
        ),
    );
  });
}

export function nearestInstant(instants: readonly Instant[], folded: number): Instant | undefined {
  return [...instants].sort((a, b) => Math.abs(a.folded - folded) - Math.abs(b.folded - folded))[0];
}

function wordsOf(signal: RecordedVisit['views'][0]['signals'][0]): string {
  switch (signal.s) {
    case 'scroll':
      return `scrolled to ${signal.depth} %`;
    case 'click':
      return 'clicked';
    case 'exit':
      return 'moved to leave';
    case 'event':
      return `did “${signal.name}”`;
    case 'hide':
      return 'tab hidden';
    case 'show':
      return 'tab back';
    case 'whole':
      return 'all of the page in view';
    case 'input':
    case 'seen':
      return signal.s;
  }
}
