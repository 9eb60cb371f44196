import type { Before, Signal } from './signal';

/** Engaged time runs while the tab is visible and the last input is less than this ago. */
export const ENGAGED_MS = 30_000;

/** A rule's seconds as a timeline has them. */
export const msOf = ({ seconds = 0 }: { readonly seconds?: number | undefined }): number => Math.round(seconds * 1000);

/** One element condition that waits for a share to last: since when it has held without a break, and whether it is fulfilled. */
export interface Watch {
  readonly selector: string;
  readonly share: number;
  readonly ms: number;
  since?: number | undefined;
  done: boolean;
}

/** One page view as it stands at `t`. Advanced by `takeSignal` and `advanceTo` only, and never backwards. */
export interface Timeline {
  readonly before: Before;
  t: number;
  visible: boolean;
  lastInput: number;
  engagedMs: number;
  depth: number;
  scrolled: boolean;
  clicks: number;
  readonly clickedOn: Set<string>;
  readonly reached: Set<string>;
  readonly events: { readonly name: string; readonly props: Readonly<Record<string, unknown>> | undefined }[];
  readonly shares: Map<string, number>;
  readonly watches: Watch[];
  /** The signal of this very instant, if one is being judged. */
  signal?: Signal | undefined;
  /** The last input as it stood before that signal; undefined if the tab was hidden then. */
  idleSince?: number | undefined;
}

export function openTimeline(before: Before = {}): Timeline {
  return {
    before,
    t: 0,
    visible: !before.hidden,
    lastInput: 0,
    engagedMs: 0,
    depth: before.cannotScroll ? 100 : 0,
    scrolled: false,
    clicks: 0,
    clickedOn: new Set(),
    reached: new Set(),
    events: [],
    shares: new Map(),
    watches: [],
  };
}

/** Engaged ms of this page view up to `t`, which is not before the timeline's own. */
export function engagedAt(line: Timeline, t: number): number {
  return line.engagedMs + (line.visible ? Math.max(0, Math.min(t, line.lastInput + ENGAGED_MS) - line.t) : 0);
}

export function advanceTo(line: Timeline, t: number): void {
  line.engagedMs = engagedAt(line, t);
  line.t = t;
  line.signal = undefined;
}

/** Counts the signal in. A signal that claims to be older than the one before it is taken at the same instant as that one. */
export function takeSignal(line: Timeline, signal: Signal): void {
  advanceTo(line, Math.max(signal.t, line.t));
  line.signal = signal;
  line.idleSince = line.visible ? line.lastInput : undefined;
  const { t } = line;
  switch (signal.s) {
    case 'scroll':
      line.depth = Math.max(line.depth, signal.depth);
      line.scrolled = true;
      line.lastInput = t;
      break;
    case 'click':
      line.clicks++;
      for (const selector of signal.on) line.clickedOn.add(selector);
      line.lastInput = t;
      break;
    case 'input':
      line.lastInput = t;
      break;
    case 'seen':
      line.shares.set(signal.selector, signal.share);
      if (signal.top) line.reached.add(signal.selector);
      break;
    case 'event':
      line.events.push({ name: signal.name, props: signal.props });
      break;
    case 'hide':
      line.visible = false;
      break;
    case 'show':
      line.visible = true;
      line.lastInput = t;
      break;
    case 'whole':
      line.depth = 100;
      break;
    case 'exit':
      break;
  }
  for (const watch of line.watches) follow(line, watch);
}

/** Starts following a `visible` condition; the same selector, share and duration are followed once. */
export function watchShare(line: Timeline, selector: string, share: number, ms: number): Watch {
  const known = line.watches.find((watch) => watch.selector === selector && watch.share === share && watch.ms === ms);
  if (known) return known;
  const watch: Watch = { selector, share, ms, done: false };
  line.watches.push(watch);
  follow(line, watch);
  return watch;
}

function follow(line: Timeline, watch: Watch): void {
  if (watch.done) return;
  watch.done = watch.since !== undefined && line.t - watch.since >= watch.ms;
  if (line.visible && (line.shares.get(watch.selector) ?? -1) >= watch.share) {
    watch.since ??= line.t;
    watch.done ||= watch.ms === 0;
  } else {
    watch.since = undefined;
  }
}
