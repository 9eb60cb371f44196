import type { Placement } from '@/core/pacing/placement';
import type { Signal } from '@/core/moments/signal';
import { isHidden } from '../own';
import type { PageView } from '../view';
import { openView as openPlainView } from '../view';
import { now } from './clock';
import type { TriedView } from './session';
import { saveSession, session } from './session';

export type { PageView } from '../view';

/** The page view under way, as the collector is told of it. */
export interface Watched {
  readonly view: PageView;
  readonly openedAt: number;
  readonly hidden: boolean;
  readonly visitElapsed: number;
  readonly visitEngaged: number;
  readonly visitClicks: number;
  readonly signals: Signal[];
  readonly held: Map<string, Placement>;
  readonly drawn: TriedView;
  adBlocker?: boolean;
}

let watched: Watched | undefined;
let tellChange = (): void => undefined;

export const watchedView = (): Watched | undefined => watched;

/** Calls back whenever something happened in the page view. */
export function onChange(tell: () => void): void {
  tellChange = tell;
}

const MOST = 4900;

/** In the place of `../view`: the same page view, which tells the dock what it hears. */
export function openView(given: Parameters<typeof openPlainView>[0]): PageView {
  const { openedAt, state, page, onShow } = given;
  const { startedAt, engagedMs, clicks } = state.visit;
  const held = new Map<string, Placement>();
  const signals: Signal[] = [];
  const drawn: TriedView = { path: new URL(page().url).pathname, at: openedAt, to: openedAt, signals, shown: [] };
  const before = { hidden: isHidden(), visitElapsed: openedAt - startedAt, visitEngaged: engagedMs, visitClicks: clicks };
  const view = openPlainView({
    ...given,
    onShow: (campaign, at) => {
      if (campaign.place !== 'none') held.set(campaign.id, campaign.place);
      drawn.shown.push({ campaign: campaign.id, at });
      onShow(campaign, at);
      tellChange();
    },
  });
  const mine: Watched = {
    openedAt,
    ...before,
    signals,
    held,
    drawn,
    view: {
      ...view,
      signal: (body, at) => {
        if (signals.length < MOST) signals.push({ t: Math.max(0, Math.round(at - openedAt)), ...body });
        drawn.to = at;
        view.signal(body, at);
        tellChange();
      },
      hold: (campaign, place) => {
        held.set(campaign, place ?? 'overlay');
        view.hold(campaign, place);
        tellChange();
      },
      free: (campaign) => {
        held.delete(campaign);
        view.free(campaign);
        tellChange();
      },
      noteAdBlocker: (hasOne) => {
        mine.adBlocker = hasOne;
        view.noteAdBlocker(hasOne);
      },
      end: (at) => {
        const { engagedMs: engagedBefore } = state.visit;
        view.end(at);
        drawn.to = at;
        const last = session().tried.visits.at(-1)?.views.at(-1);
        if (last)
          Object.assign(last, {
            engaged: (state.visit.engagedMs - engagedBefore) / 1000,
            scroll: Math.max(0, ...signals.map((signal) => (signal.s === 'scroll' ? signal.depth : signal.s === 'whole' ? 100 : 0))),
          });
        saveSession();
      },
    },
  };
  watched = mine;
  session().ribbon.push(drawn);
  saveSession();
  return mine.view;
}

/** Lets everything happen that the clock has come to. */
export function wake(): void {
  watched?.view.free('');
}

/** How long the page has been open, in ms. */
export const sinceOpened = ({ openedAt }: Watched): number => Math.max(0, Math.round(now() - openedAt));
