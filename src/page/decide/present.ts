import { assign } from '@/core/campaigns/assign';
import type { Dismissal, Outcome } from '@/core/history/visitor';
import type { Action, ActionOf } from '@/core/messages/action';
import type { Message } from '@/core/messages/message';
import { noteOutcome } from '@/core/pacing/pacing';
import type { Placement } from '@/core/pacing/placement';
import type { Expr } from '@/core/logic/expr';
import type { Truth } from '@/core/logic/truth';
import type { PageLeaf } from '@/core/people/inPage';
import type { ReleasedCampaign } from '@/core/release/release';
import { guard } from '../guard';
import type * as Extras from '../show/extras';
import type { ShowFlow } from '../show/show';
import type { KeptTalk } from '../show/context';
import { uuid7 } from '../uuid';
import type { Host } from './host';

declare const __SHOW_PART__: string;
declare const __CHAT_PART__: string;
declare const __EXTRAS_PART__: string;
declare const __PLACE_PART__: string;

type Given = Parameters<ShowFlow>[2];

export interface Presenter {
  /** Shows a campaign whose instant has come; the holdout gets nothing and counts all the same. */
  readonly show: (campaign: ReleasedCampaign, at: number) => Promise<void>;
  /** Opens a campaign, or one of its messages (`campaign/message`), because the visitor or the page asks for it: never paced. */
  readonly open: (name: unknown, kept?: KeptTalk) => Promise<void>;
  readonly closeAll: () => void;
  /** Begins a page view: what the last one showed goes with it, but for a chat, which holds its corner on. */
  readonly turn: (hold: (campaign: string, place: Placement) => void) => void;
}

/** Leading somewhere else is the renderer's, and what becomes of the message the flow's. */
type Elsewhere = 'message' | 'page' | 'phone' | 'calendar' | 'close' | 'end';

/** What the page script itself carries out: every other kind of action. */
const ACTS: { readonly [K in Exclude<Action['kind'], Elsewhere>]: (host: Host, action: ActionOf<K>) => void } = {
  report: (host, { event, props }) => host.did(event, props),
  tag: (host, { tag }) => host.tag(tag),
  score: (host, { points }) => host.score(points),
};

/** Between the page's own elements. */
const isInPage = (message: Message): boolean =>
  message.format === 'inset' || (message.format === 'banner' && !!(message.slot ?? message.pushes));

/** The same, or at an edge of the window. */
const needsPlace = (message: Message): boolean => isInPage(message) || message.format === 'tab';

/** `holds`: whether the visitor surely belongs to these people, as far as is known by now. */
export function createPresenter(host: Host, holds: (people: Expr<PageLeaf>) => Truth): Presenter {
  const { state, now } = host;
  const open = new Map<string, { close: () => void; place: Placement }>();

  async function present(
    campaign: ReleasedCampaign,
    at: number,
    asked?: { start?: string | undefined; showing?: string | undefined },
  ): Promise<void> {
    const view = host.view();
    const assigned = asked
      ? { kind: 'shown' as const, start: asked.start, variant: undefined }
      : assign(campaign, state.browser, campaign.id);
    const start = assigned.start ?? campaign.flow.start;
    const message = campaign.flow.messages.find(({ id }) => id === start);
    const where = { view: view.id, visit: state.visit.id };
    const showing = asked?.showing ?? uuid7(at);
    if (!asked?.showing)
      host.send({
        kind: 'showing',
        ...where,
        id: showing,
        campaign: campaign.id,
        release: host.release()?.number ?? 1,
        at,
        shown: assigned.kind === 'shown',
        variant: assigned.variant,
        opened: asked && true,
        unseen: (message && isInPage(message)) || undefined,
      });
    host.save();
    if (assigned.kind === 'holdout') return view.free(campaign.id);
    if (!asked?.showing) host.tell('showing', { campaign: campaign.id, variant: assigned.variant });
    const note = (outcome: Outcome, how?: Dismissal): void => {
      noteOutcome(state.pacing, campaign.id, outcome);
      host.send({ kind: 'outcome', showing, outcome, how, at: now() });
      host.save();
      host.tell(outcome, { campaign: campaign.id });
    };
    const act = (action: Action): void =>
      (ACTS as Partial<Record<Action['kind'], (host: Host, action: never) => void>>)[action.kind]?.(host, action as never);
    if (message?.format === 'quiet') {
      message.does.forEach(act);
      // A quiet action may still lead to a message that is seen.
      if (!message.does.some(({ kind }) => kind === 'message')) return;
    }
    const [{ showFlow }, extras, place] = (await Promise.all([
      import(host.base + __SHOW_PART__),
      campaign.extras ? import(host.base + __EXTRAS_PART__) : {},
      campaign.flow.messages.some(needsPlace) ? import(host.base + __PLACE_PART__) : {},
    ])) as [
      { showFlow: ShowFlow },
      Partial<Pick<typeof Extras, 'drawExtra' | 'extraStyle' | 'partFor' | 'atForm'>>,
      Pick<Given, 'placeInPage' | 'placeStyle'>,
    ];
    // The page view that it was for is over by now.
    if (host.view() !== view) return;
    const shown = { close: (): void => undefined, place: campaign.place };
    open.set(campaign.id, shown);
    shown.close = showFlow(extras.partFor?.(campaign.flow, holds) ?? campaign.flow, start, {
      ...(extras as Pick<Given, 'drawExtra'>),
      ...place,
      base: host.base,
      talk: { host, showing, campaign: campaign.id },
      values: host.values(),
      now,
      loadChat: () => import(host.base + __CHAT_PART__) as ReturnType<Given['loadChat']>,
      firstSeen: (key) => {
        const name = `since:${campaign.id}:${key}`;
        const since = host.store.read<number>(name) ?? now();
        host.store.write(name, since);
        return since;
      },
      onOutcome: guard('outcome', note),
      onStep: (message) => host.send({ kind: 'step', showing, message, at: now() }),
      onAct: guard('act', act),
      onSend: guard('send', ({ email, fields }: { email?: string; fields: Record<string, string | number | boolean> }) => {
        noteOutcome(state.pacing, campaign.id, 'converted');
        host.save();
        host.send({
          kind: 'form',
          ...where,
          id: uuid7(now()),
          showing,
          campaign: campaign.id,
          at: now(),
          url: location.href.slice(0, 4000),
          fields,
          ...(email ? { email } : {}),
        });
        host.tell('converted', { campaign: campaign.id });
      }),
      onPlace: guard('place', (place) => {
        shown.place = place;
        host.view().hold(campaign.id, place);
      }),
      onEnd: guard('end', () => {
        open.delete(campaign.id);
        host.view().free(campaign.id);
      }),
      guard,
    });
  }

  return {
    show: (campaign, at) => present(campaign, at),
    open: async (name, kept) => {
      const [id, start] = String(name).split('/');
      const campaign = kept
        ? ({ id: kept.campaign, place: 'corner', flow: { start: kept.message, messages: [kept.drawn] } } as unknown as ReleasedCampaign)
        : host.release()?.campaigns.find((one) => one.id === id);
      if (!campaign || open.has(campaign.id)) return;
      host.view().hold(campaign.id);
      await present(campaign, now(), { start, showing: kept?.showing });
    },
    closeAll: () => open.forEach(({ close }) => close()),
    turn: (hold) =>
      open.forEach(({ close, place }, id) => {
        if (place === 'corner') hold(id, place);
        else close();
      }),
  };
}
