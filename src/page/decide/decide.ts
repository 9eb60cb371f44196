import type { Timeline } from '@/core/moments/timeline';
import type { Decider } from '@/core/pacing/decider';
import { createDecider } from '@/core/pacing/decider';
import type { PacingRecord } from '@/core/pacing/pacing';
import type { Page } from '@/core/pages/address';
import { pagesHold } from '@/core/pages/pages';
import type { Expr } from '@/core/logic/expr';
import type { PageLeaf } from '@/core/people/inPage';
import { peopleHoldInPage, peopleWakeAt } from '@/core/people/inPage';
import type { Release, ReleasedCampaign } from '@/core/release/release';
import { leavesOf } from '@/core/logic/expr';
import type { Truth } from '@/core/logic/truth';
import { and } from '@/core/logic/truth';
import type { DecisionContext } from '@/core/wire/items';
import { guard } from '../guard';
import { readCookies } from '../facts/cookies';
import { readOpenFacts } from '../facts/openFacts';
import type { KeptTalk } from '../show/context';
import type { Host } from './host';
import { mergePacing } from './merge';
import type { Presenter } from './present';
import type * as Watching from './watch';
import { createPresenter } from './present';

export type DecideFor = (given: {
  release: Release;
  line: Timeline;
  openedAt: number;
  record: PacingRecord;
  shownHere: Set<string>;
  page: () => Page;
  facts: () => readonly Truth[];
}) => Decider;

declare const __WATCH_PART__: string;

export interface Deciding extends Presenter {
  readonly decideFor: DecideFor;
  /** A release that was too long for an answer. */
  readonly fetchRelease: (url: string) => Promise<Release | false>;
  /** Follows the elements that the release's moments name, in the page as it is now; takes the place of the last following. */
  readonly follow: (release: Release) => void;
  /** What the collector remembers of showings, too, counts from here on. */
  readonly merge: (recorded: DecisionContext['pacing']) => void;
  readonly stop: () => void;
}

/** The part of the page script that decides: loaded only where a release has campaigns. */
export function beginDeciding(host: Host): Deciding {
  let known: () => readonly Truth[] = () => [];
  const holds = (people: Expr<PageLeaf> | undefined, now = host.now()): Truth =>
    peopleHoldInPage(people, {
      facts: known(),
      browser: { ...readOpenFacts(), zone: host.zone(), cookies: readCookies(), adBlocker: hasAdBlocker },
      now,
    });
  const presenter = createPresenter(host, holds);
  let hasAdBlocker: boolean | undefined;
  let isChecking = false;
  let following = 0;
  let turnedAt: number | undefined;
  let unfollow = (): void => undefined;

  const decideFor: DecideFor = ({ release, line, openedAt, record, shownHere, page, facts }) => {
    known = facts;
    const fits = (campaign: ReleasedCampaign, now: number): Truth =>
      and([pagesHold(campaign.pages, page(), {}), hasSpot(campaign), holds(campaign.people, now)]);
    const candidates = release.campaigns.map((campaign) => ({
      id: campaign.id,
      place: campaign.place,
      moment: campaign.moment,
      pacing: campaign.pacing,
      fits: (now: number) => fits(campaign, now),
      fitsWakesAt: (now: number) => peopleWakeAt(campaign.people, now),
    }));
    const decider = createDecider({ candidates, line, openedAt, record, budget: release.budget, shownHere });
    if (turnedAt !== openedAt) presenter.turn(decider.hold);
    turnedAt = openedAt;
    return decider;
  };

  return {
    ...presenter,
    decideFor,
    fetchRelease: async (url) => {
      const response = await fetch(url);
      return response.ok && ((await response.json()) as Release);
    },
    follow: guard('follow', async (release: Release) => {
      const mine = ++following;
      // A conversation goes on wherever the visitor goes.
      const talk = host.store.read<KeptTalk>('talk');
      if (talk?.drawn) void presenter.open(undefined, talk);
      unfollow();
      unfollow = () => undefined;
      const leaves = release.campaigns.flatMap(({ moment }) => leavesOf(moment)).map(({ leaf }) => leaf);
      const selectors = leaves.flatMap((leaf) => (leaf.kind === 'visible' || leaf.kind === 'reach' ? [leaf.selector] : []));
      const asks = !isChecking && release.campaigns.some(({ people }) => leavesOf(people).some(({ leaf }) => leaf.kind === 'adBlocker'));
      // Most releases ask for neither, and load nothing for it.
      if (selectors.length === 0 && !asks) return;
      const { watchElements, checkAdBlocker } = (await import(host.base + __WATCH_PART__)) as typeof Watching;
      if (mine !== following) return;
      const shares = leaves.flatMap((leaf) => (leaf.kind === 'visible' ? [leaf.share] : []));
      unfollow = watchElements([...new Set(selectors)], shares, host.emit);
      if (!asks) return;
      isChecking = true;
      checkAdBlocker((hasOne) => {
        hasAdBlocker = hasOne;
        host.view().noteAdBlocker(hasOne);
      });
    }),
    merge: (recorded) => mergePacing(host.state.pacing, recorded),
    stop: () => {
      following++;
      unfollow();
      presenter.closeAll();
    },
  };
}

/** A message that fills a slot, or stands at an element, needs it in the page: without it the campaign waits. */
function hasSpot({ flow }: ReleasedCampaign): boolean {
  const message = flow.messages.find(({ id }) => id === flow.start);
  const spot = message && spotOf(message);
  return !spot || document.querySelector(spot) !== null;
}

function spotOf(message: ReleasedCampaign['flow']['messages'][number]): string | undefined {
  const slot = (name: string): string => `[data-crindle-slot="${name}"]`;
  if (message.format === 'banner') return message.slot && slot(message.slot);
  if (message.format !== 'inset') return undefined;
  return 'slot' in message.into ? slot(message.into.slot) : message.into.selector;
}
