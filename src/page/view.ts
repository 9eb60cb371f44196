import type { ReleasedCampaign, Release } from '@/core/release/release';
import { VISIT_GAP_MS } from '@/core/history/visitor';
import { advanceTo, ENGAGED_MS, engagedAt, openTimeline, takeSignal } from '@/core/moments/timeline';
import type { Timeline } from '@/core/moments/timeline';
import type { Decider } from '@/core/pacing/decider';
import type { Placement } from '@/core/pacing/placement';
import type { Truth } from '@/core/logic/truth';
import type { Loose, PieceItem, SentPiece, SentSignal } from '@/core/wire/items';
import { packSignals } from '@/core/wire/pack';
import { now } from './clock';
import type { DecideFor } from './decide/decide';
import { later } from './guard';
import { toJson } from './json';
import { isHidden } from './own';
import type { PageReader } from './pageFacts';
import type { State } from './state';

/** As many as the collector takes in a piece; what is left goes with the next one. */
const MOST_SIGNALS = 2000;

export interface PageView {
  readonly id: string;
  readonly openedAt: number;
  /** Counts a signal in at `at` (UTC ms), decides, and keeps it for the next piece. */
  readonly signal: (body: SentSignal, at: number) => void;
  /** Gives the view what it needs to decide; may come late and more than once. */
  readonly decideWith: (decideFor: DecideFor, release: Release, facts: readonly Truth[]) => void;
  readonly free: (campaign: string) => void;
  readonly hold: (campaign: string, place?: Placement) => void;
  readonly noteAdBlocker: (hasOne: boolean) => void;
  /**
   * The next piece of signals; undefined if nothing happened since the last one. Of a page that is looked at and left alone how long it has
   * been open is said ever more seldom, and no more after half an hour; of a hidden one not at all. `isLeaving`: said once more.
   */
  readonly takePiece: (at: number, isLeaving?: boolean) => SentPiece | undefined;
  /** Ends the view: its engaged time and clicks go to the visit, its timers stop. */
  readonly end: (at: number) => void;
}

/** One page view: its timeline, what it decides, and what of it is still to be sent. */
export function openView({
  id,
  openedAt,
  state,
  page,
  onShow,
  onActivity,
}: {
  id: string;
  openedAt: number;
  state: State;
  page: PageReader;
  onShow: (campaign: ReleasedCampaign, at: number) => void;
  onActivity: (at: number) => void;
}): PageView {
  const { visit } = state;
  const line: Timeline = openTimeline({
    hidden: isHidden(),
    visitElapsed: openedAt - visit.startedAt,
    visitEngaged: visit.engagedMs,
    visitClicks: visit.clicks,
  });
  const pending: PieceItem['signals'][number][] = [];
  let piece = 0;
  /** What the last piece said of the page: said again only when it has changed. */
  let said = '';
  let sentLeave = -1;
  let adBlocker: boolean | undefined;
  let release: Release | undefined;
  let facts: readonly Truth[] = [];
  let decider: Decider | undefined;
  const shownHere = new Set<string>();
  let timer: ReturnType<typeof setTimeout> | undefined;

  /** Never before what has been counted in, whatever the clock says. */
  const sinceOpen = (at: number): number => Math.max(line.t, Math.round(at - openedAt));

  function act(started: readonly string[]): void {
    for (const campaign of started) {
      const released = release?.campaigns.find((one) => one.id === campaign);
      if (released) onShow(released, openedAt + line.t);
    }
    sleep();
  }

  const wake = (): void => {
    if (decider) act(decider.wake(sinceOpen(now())));
  };

  function sleep(): void {
    clearTimeout(timer);
    // setTimeout fires at once for delays beyond 24.8 days: then there is nothing to do yet.
    timer = later(wake, Math.min(openedAt + (decider?.wakesAt() ?? Infinity) - now(), 2 ** 31 - 1));
  }

  return {
    id,
    openedAt,
    signal: (body, at) => {
      const signal = { t: sinceOpen(at), ...body };
      pending.push(signal);
      onActivity(at);
      if (decider) act(decider.signal(signal));
      else takeSignal(line, signal);
    },
    decideWith: (decideFor, newRelease, newFacts) => {
      facts = newFacts;
      if (!decider || release !== newRelease) {
        release = newRelease;
        decider = decideFor({ release, line, openedAt, record: state.pacing, shownHere, page, facts: () => facts });
      }
      wake();
    },
    free: (campaign) => {
      decider?.free(campaign);
      wake();
    },
    hold: (campaign, place) => decider?.hold(campaign, place),
    noteAdBlocker: (hasOne) => {
      adBlocker = hasOne;
      wake();
    },
    takePiece: (at, isLeaving) => {
      const t = sinceOpen(at);
      const idle = t - line.lastInput;
      // The first piece says what the page is called: after history navigation that is not known at the opening.
      if (
        piece &&
        pending.length === 0 &&
        (!line.visible || idle > VISIT_GAP_MS || t - sentLeave < (isLeaving || idle < ENGAGED_MS ? 1000 : idle / 2))
      )
        return undefined;
      const { title, labels } = page();
      const says = {
        title,
        labels,
        watched: (release?.watch ?? []) as string[],
      };
      // What it is called while it is left may be the next one's name; it has been said by then.
      const isNews = said !== (said = toJson(says)) && !(isLeaving && piece);
      const item: Loose<SentPiece> = {
        kind: 'piece',
        view: id,
        piece: piece++,
        signals: packSignals(pending.splice(0, MOST_SIGNALS)),
        engaged: Math.round(engagedAt(line, t)),
        scroll: Math.floor(line.depth),
        leave: t,
        adBlocker,
        ...(isNews && says),
      };
      sentLeave = t;
      return item;
    },
    end: (at) => {
      clearTimeout(timer);
      decider = undefined;
      advanceTo(line, sinceOpen(at));
      visit.engagedMs += Math.round(line.engagedMs);
      visit.clicks += line.clicks;
    },
  };
}
