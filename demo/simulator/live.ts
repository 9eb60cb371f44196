import { factsFrom } from '@/core/facts/facts';
import { peopleHoldInPage } from '@/core/people/inPage';
import { pagesHold } from '@/core/pages/pages';
import { and } from '@/core/logic/truth';
import { assign } from '@/core/campaigns/assign';
import { emptyPacing } from '@/core/pacing/pacing';
import { replayView } from '@/core/pacing/replay';
import type { Release } from '@/core/release/release';
import type { BatchAnswer, SentItem, DecisionContext } from '@/core/wire/items';
import { packSignals } from '@/core/wire/pack';
import type { Dice } from '@/core/random/dice';
import { addressIn } from '../towns';
import { factsOfPerson } from './people';
import type { SimulatedView, SimulatedVisit } from './simulate';

/** An hour of one try a second: a collector that is started again on a busy machine takes its time. */
const MOST_TRIES = 3600;
const PIECE_MS = 10_000;

export interface LiveOptions {
  /** With a slash at the end. */
  readonly collector: string;
  readonly siteKey: string;
  readonly origin: string;
  readonly now: () => number;
  /** Waits so many ms of the visitor's time. */
  readonly wait: (ms: number) => Promise<void>;
  readonly dice: Dice;
  readonly onAnswer?: (status: number) => void;
}

/**
 * Plays one simulated visit through the real collector over HTTP: opens, pieces every ten seconds as things happen, showings
 * by the release and the facts it is given, and what comes of them. What is not taken is sent again with the next batch, as
 * the page script does.
 */
export async function playLive(visit: SimulatedVisit, options: LiveOptions): Promise<void> {
  const { dice, now, wait } = options;
  const { person } = visit;
  const startedAt = now();
  const ids = { visit: dice.uuid(startedAt), browser: person.browserId };
  const record = emptyPacing(startedAt);
  const unsent: SentItem[] = [];
  const post = async (items: SentItem[]): Promise<DecisionContext | undefined> => {
    unsent.push(...items);
    const answer = await send(unsent, ids.browser, visit, options);
    if (!answer) return undefined;
    unsent.length = 0;
    return answer.context;
  };

  for (const [index, view] of visit.views.entries()) {
    const openedAt = now();
    const id = dice.uuid(openedAt);
    const where = { view: id, visit: ids.visit };
    const context = await post([
      {
        kind: 'open',
        ...where,
        at: openedAt,
        visitAt: startedAt,
        url: view.url,
        title: view.title,
        labels: [...view.labels],
        referrer: index === 0 ? (visit.referrer ? `https://${visit.referrer}/` : '') : `${options.origin}/`,
        ...factsFrom(factsOfPerson(person), 'open'),
        touchPoints: person.device.touchPoints,
        hidden: false,
      },
      ...(index === 0 && person.member ? [memberItem(person.member, person.email, openedAt + 1, dice)] : []),
    ]);
    const release = context?.release ? await loadRelease(context.release.hash, options) : undefined;
    const items = timed(view, { where, openedAt, record, context, release, person: ids.browser, visitElapsed: openedAt - startedAt, dice });
    for (let from = 0, piece = 0; from < view.leaveMs; from += PIECE_MS, piece++) {
      const until = Math.min(view.leaveMs, from + PIECE_MS);
      await wait(until - from);
      const due = items.filter(({ t }) => t >= from && (t < until || until === view.leaveMs));
      const signals = view.signals.filter(({ t }) => t >= from && (t < until || until === view.leaveMs));
      const share = until / view.leaveMs;
      await post([
        ...due.map(({ item }) => item),
        {
          kind: 'piece',
          view: where.view,
          piece,
          signals: packSignals(signals),
          engaged: Math.round(view.engagedMs * share),
          scroll: until === view.leaveMs ? Math.floor(view.scroll) : 0,
          leave: until,
          watched: [...(release?.watch ?? [])],
        },
      ]);
    }
  }
  // What the last page could not hand over waits for the next visit; here there is none, so it is tried until it is taken.
  for (let tries = 0; unsent.length && tries < MOST_TRIES; tries++) {
    await wait(1000);
    await post([]);
  }
  if (unsent.length) throw new Error(`${unsent.length} items of a visit were never taken`);
}

function memberItem(
  { id, ...traits }: NonNullable<SimulatedVisit['person']['member']>,
  email: string | undefined,
  at: number,
  dice: Dice,
): SentItem {
  return { kind: 'person', id: dice.uuid(at), at, customerId: id, ...(email ? { email } : {}), traits };
}

interface Playing {
  readonly where: { view: string; visit: string };
  readonly openedAt: number;
  readonly record: ReturnType<typeof emptyPacing>;
  readonly context: DecisionContext | undefined;
  readonly release: Release | undefined;
  readonly person: string;
  readonly visitElapsed: number;
  readonly dice: Dice;
}

/** Events and showings of a page view with the instant (ms since the opening) at which they happen. */
function timed(
  view: SimulatedView,
  { where, openedAt, record, context, release, person, visitElapsed, dice }: Playing,
): { t: number; item: SentItem }[] {
  const events = view.signals.flatMap((signal) =>
    signal.s === 'event'
      ? [
          {
            t: signal.t,
            item: {
              kind: 'event' as const,
              ...where,
              id: dice.uuid(openedAt + signal.t),
              at: openedAt + signal.t,
              name: signal.name,
              props: (signal.props ?? {}) as never,
            },
          },
        ]
      : [],
  );
  if (!release) return events;
  const candidates = release.campaigns.map(({ id, place, moment, pacing, pages, people }) => ({
    id,
    place,
    moment,
    pacing,
    fits: (now: number) => and([pagesHold(pages, view, {}), peopleHoldInPage(people, { facts: context?.facts ?? [], browser: {}, now })]),
  }));
  const shown = replayView(
    { at: openedAt, signals: view.signals, leave: view.leaveMs, before: { visitElapsed } },
    { candidates, record, budget: release.budget },
  );
  return [
    ...events,
    ...shown.flatMap(({ campaign, at }) => {
      const released = release.campaigns.find(({ id }) => id === campaign);
      const dealt = assign(released ?? {}, person, campaign);
      const id = dice.uuid(at);
      const t = at - openedAt;
      const isShown = dealt.kind === 'shown';
      const item: SentItem = {
        kind: 'showing',
        ...where,
        id,
        campaign,
        release: release.number,
        at,
        shown: isShown,
        ...(isShown && dealt.variant ? { variant: dealt.variant } : {}),
      };
      const isClosed = isShown && t + 3000 < view.leaveMs && dice.chance(0.5);
      return [
        { t, item },
        ...(isClosed
          ? [
              {
                t: t + 3000,
                item: { kind: 'outcome' as const, showing: id, outcome: 'dismissed' as const, at: at + 3000, how: 'button' as const },
              },
            ]
          : []),
      ];
    }),
  ];
}

const releases = new Map<string, Promise<Release>>();

function loadRelease(hash: string, { collector, siteKey }: LiveOptions): Promise<Release | undefined> {
  const known =
    releases.get(hash) ?? fetch(`${collector}r/${siteKey}/${hash}`).then(async (response) => (await response.json()) as Release);
  releases.set(hash, known);
  return known.catch(() => {
    releases.delete(hash); // Asked for again by the next page view.
    return undefined;
  });
}

/** The answer, or undefined where it has to be sent again. What is refused for good is an error of ours. */
async function send(
  items: readonly SentItem[],
  browser: string,
  { person }: SimulatedVisit,
  options: LiveOptions,
): Promise<BatchAnswer | undefined> {
  const { collector, siteKey, origin, now, onAnswer } = options;
  let response: Response;
  try {
    response = await fetch(`${collector}c`, {
      method: 'POST',
      headers: {
        origin,
        'user-agent': person.device.userAgent,
        'x-forwarded-for': addressIn(person.town, browser.charCodeAt(browser.length - 1)),
      },
      body: JSON.stringify({ key: siteKey, browser, now: now(), items }),
    });
  } catch {
    onAnswer?.(0);
    return undefined; // The collector is away: it comes back.
  }
  onAnswer?.(response.status);
  if (response.ok) {
    const answer = (await response.json()) as BatchAnswer;
    const refused = answer.items.find((item) => !item.ok);
    if (refused) throw new Error(`The collector refused an item: ${JSON.stringify(refused)}`);
    return answer;
  }
  await response.body?.cancel();
  if (response.status < 500 && response.status !== 429) throw new Error(`The collector answered ${response.status}`);
  return undefined;
}
