import type { Release, ReleasedCampaign } from '@/core/release/release';
import type { DecisionContext, Loose, OpenItem, SentItem } from '@/core/wire/items';
import { VISIT_GAP_MS } from '@/core/history/visitor';
import type { Truth } from '@/core/logic/truth';
import { cleanName, cleanValues } from './clean';
import { now } from './clock';
import type { beginDeciding, Deciding } from './decide/decide';
import type { Host } from './decide/host';
import { readOpenFacts } from './facts/openFacts';
import { readZone } from './facts/zone';
import { guard, later, reportFaultsTo } from './guard';
import { openOutbox } from './outbox';
import { isHidden, ofDocument } from './own';
import { createPageReader } from './pageFacts';
import { watchAddress } from './sensors/address';
import { watchInput, watchVisibility } from './sensors/attention';
import { watchClicks } from './sensors/clicks';
import { watchExit } from './sensors/exit';
import { scrollDepth, watchScroll } from './sensors/scroll';
import { listen } from './sensors/sensor';
import type { State } from './state';
import { continueOrBeginVisit, openState } from './state';
import { openStore } from './store';
import { uuid7 } from './uuid';
import type { PageView } from './view';
import { openView } from './view';

const PIECE_EVERY_MS = 10_000;
const SAVE_EVERY_MS = 1000;
/** An open page hears of a new release within this and one piece more. */
const ASK_AFTER_MS = 40_000;
const MOST_FAULTS = 3;
/** A page that cannot be scrolled for so long after it was loaded is taken to be all there; until then its content may be on its way. */
const WHOLE_AFTER_MS = 5000;
const MOST_ASKED = 3;

declare const __DECIDE_PART__: string;

export interface Runtime {
  readonly did: (name: unknown, props?: unknown) => void;
  readonly person: (person: { id?: unknown; email?: unknown; traits?: unknown; signature?: unknown }) => void;
  readonly tag: (name: unknown) => void;
  readonly score: (points: unknown) => void;
  readonly open: (name: unknown) => void;
  readonly fault: (entry: string, cause: unknown) => void;
  /** With `forget`, what this browser remembers is erased and nothing more is sent. */
  readonly stop: (forget?: boolean) => void;
}

/** Everything that runs in a page, for one site. `base` is the collector's address with a slash at the end. */
export function startRuntime({
  siteKey,
  base,
  pageEvent,
  consent,
  listeners,
}: {
  siteKey: string;
  base: string;
  pageEvent: string | undefined;
  consent: () => boolean;
  listeners: readonly (readonly [what: unknown, listener: (detail: unknown) => void])[];
}): Runtime {
  const store = openStore(siteKey);
  const state: State = openState(store, now());
  const page = createPageReader();
  let release = store.read<{ hash: string; document: Release }>('release');
  let values: Readonly<Record<string, string>> = {};
  let deciding: Promise<Deciding> | undefined;
  let decider: Deciding | undefined;
  let view: PageView;
  let savedAt = 0;
  let heardAt = now();
  let faults = 0;
  let isStopped = false;
  let asked = 0;
  let wholeTimer: ReturnType<typeof setTimeout> | undefined;

  const outbox = openOutbox({
    url: `${base}c`,
    siteKey,
    browser: state.browser,
    about: () => ({ consent: consent() || undefined, has: release?.hash }),
    store,
    newId: () => uuid7(now()),
    onAnswer: guard('context', ({ context, release: hash }: { context?: DecisionContext; release?: string | null }) => {
      heardAt = now();
      if (context) {
        asked = 0;
        return learn(context);
      }
      // What is live has changed since this page opened: ask what it means for this visitor. Where nobody says, not for ever.
      if (hash !== undefined && hash !== (release?.hash ?? null) && asked < MOST_ASKED) later(outbox.ask, asked++ * ASK_AFTER_MS);
      return undefined;
    }),
  });
  const save = (): void => store.write('state', state);
  const send = (item: SentItem): void => {
    outbox.put(item);
    outbox.flush();
  };
  const tell = (what: string, detail: unknown): void => {
    for (const [name, listener] of listeners) if (name === what) guard(what, listener)(detail);
  };
  const fault = (entry: string, cause: unknown): void => {
    if (isStopped || ++faults > MOST_FAULTS) return;
    send({ kind: 'fault', id: uuid7(now()), at: now(), entry: cleanName(entry), message: String(cause).slice(0, 300) });
  };

  async function learn(answer: DecisionContext): Promise<void> {
    const asked = view;
    values = answer.values ?? {};
    if (!answer.release) {
      release = undefined;
      return;
    }
    if (release?.hash !== answer.release.hash) {
      const { hash } = answer.release;
      // Where it is too long for an answer it is a file of its own, which caches may keep.
      const document = answer.document ?? (await (await loadDeciding()).fetchRelease(`${base}r/${siteKey}/${hash}`));
      if (!document) return;
      release = { hash, document };
      store.write('release', release);
    }
    await decide(asked, release.document, answer.facts, answer.pacing);
  }

  const host: Host = {
    base,
    siteKey,
    state,
    store,
    now,
    view: () => view,
    release: () => release?.document,
    values: () => values,
    send,
    save,
    emit: (body) => emit(body),
    zone: readZone,
    tell,
    did,
    tag: (name) => mark({ tag: cleanName(name) }),
    score: (points) => void (Number.isFinite(points) && mark({ score: points as number })),
  };

  function loadDeciding(): Promise<Deciding> {
    deciding ??= (import(base + __DECIDE_PART__) as Promise<{ beginDeciding: typeof beginDeciding }>).then((part) => {
      decider = part.beginDeciding(host);
      if (isStopped) decider.stop();
      return decider;
    });
    // A part that did not come may come with the next page view.
    deciding.catch(() => (deciding = undefined));
    return deciding;
  }

  /** Loads the part that decides, and has the view decide if it is still the current one. */
  async function decide(asked: PageView, document: Release, facts: readonly Truth[], pacing?: DecisionContext['pacing']): Promise<void> {
    // A conversation that was begun goes on without them.
    if (document.campaigns.length === 0 && !store.read('talk')) return;
    const part = await loadDeciding();
    if (view !== asked || isStopped) return;
    if (pacing) part.merge(pacing);
    part.follow(document);
    view.decideWith(part.decideFor, document, facts);
  }

  function open(): void {
    const at = now();
    continueOrBeginVisit(state, at);
    view = openView({
      id: uuid7(at),
      openedAt: at,
      state,
      page,
      onShow: guard('show', (campaign: ReleasedCampaign, shownAt: number) => decider?.show(campaign, shownAt)),
      onActivity: (activeAt) => {
        state.visit.lastAt = activeAt;
        if (activeAt - savedAt < SAVE_EVERY_MS) return;
        savedAt = activeAt;
        save();
      },
    });
    const { url, title, labels } = page();
    const opening: Loose<OpenItem> = {
      kind: 'open',
      view: view.id,
      visit: state.visit.id,
      at,
      visitAt: state.visit.startedAt,
      url: url.slice(0, 4000),
      title,
      labels,
      referrer: ofDocument('referrer').slice(0, 4000),
      ...readOpenFacts(),
      touchPoints: navigator.maxTouchPoints,
      hidden: isHidden(),
    };
    outbox.put(opening);
    save();
    // Where there is no quick way to know the zone: not in the same task.
    if (opening.zone) outbox.flush();
    else
      later(() => {
        opening.zone = readZone();
        outbox.flush();
      });
    // Rules that need no facts work at once with the release this browser knows, and without the collector.
    if (release) guard('decide', decide)(view, release.document, []);
  }

  function sendPiece(isLeaving?: boolean): void {
    const piece = view.takePiece(now(), isLeaving);
    if (piece) outbox.put(piece);
  }

  function closeView(): void {
    sendPiece(true);
    view.end(now());
    save();
  }

  function did(given: unknown, props: unknown): void {
    const [name, clean, at] = [cleanName(given), cleanValues(props), now()];
    if (!name) return;
    emit({ s: 'event', name, props: clean });
    send({ kind: 'event', view: view.id, visit: state.visit.id, id: uuid7(at), at, name, props: clean });
    tell('event', { name, props: clean });
  }

  function mark(what: { tag?: string; score?: number }): void {
    if (what.tag === '') return;
    const at = now();
    send({ kind: 'mark', id: uuid7(at), at, ...what });
  }

  const signal = guard('signal', (body: Parameters<PageView['signal']>[0], at: number) => view.signal(body, at));
  const emit = (body: Parameters<PageView['signal']>[0]): void => signal(body, now());
  const openByHand = guard('open', async (name: unknown) => (await loadDeciding()).open(name));
  const leave = guard('leave', () => {
    sendPiece(true);
    save();
    outbox.leave();
  });
  const watchWhole = (): void => {
    clearTimeout(wholeTimer);
    wholeTimer = later(() => scrollDepth() === undefined && emit({ s: 'whole' }), WHOLE_AFTER_MS);
  };
  const beginAnew = guard('address', () => {
    closeView();
    open();
    watchWhole();
  });

  reportFaultsTo(fault);
  open();
  const stops = [
    watchVisibility((body) => {
      emit(body);
      if (body.s === 'hide') leave();
    }),
    watchInput((at) => signal({ s: 'input' }, at), now),
    watchScroll(emit, () => (release?.document.campaigns ?? []).flatMap(({ moment }) => thresholdsOf(moment))),
    watchExit(emit, now),
    watchClicks(emit, () => release?.document.watch ?? [], openByHand),
    watchAddress(beginAnew, () => sendPiece(true), pageEvent),
    listen(window, ['load'], watchWhole),
    listen(window, ['pagehide'], leave),
    listen(window, ['pageshow'], (event) => (event as PageTransitionEvent).persisted && beginAnew()),
    listen(window, ['online'], outbox.flush),
    store.onOtherTab((name) => {
      // Another tab showed something or went on with the visit: pacing and the gap are shared.
      const theirs = store.read<State>('state');
      if (name !== 'state' || theirs?.browser !== state.browser) return;
      Object.assign(state.pacing, theirs.pacing);
      state.visit.lastAt = Math.max(state.visit.lastAt, theirs.visit.lastAt);
    }),
  ];
  if (ofDocument('readyState') === 'complete') watchWhole();
  const timer = setInterval(
    guard('piece', () => {
      sendPiece();
      outbox.flush();
      if (!isHidden() && now() - heardAt > ASK_AFTER_MS && now() - state.visit.lastAt < VISIT_GAP_MS) outbox.ask();
    }),
    PIECE_EVERY_MS,
  );

  return {
    did,
    person: ({ id, email, traits, signature }) => {
      const at = now();
      send({
        kind: 'person',
        id: uuid7(at),
        at,
        customerId: id ? cleanName(id) : undefined,
        email: email ? cleanName(email) : undefined,
        traits: traits ? cleanValues(traits) : undefined,
        signature: signature ? cleanName(signature) : undefined,
      });
    },
    tag: host.tag,
    score: host.score,
    open: openByHand,
    fault,
    stop: (forget) => {
      isStopped = true;
      clearInterval(timer);
      clearTimeout(wholeTimer);
      stops.forEach((stop) => stop());
      decider?.stop();
      reportFaultsTo(() => undefined);
      if (forget) {
        view.end(now());
        store.clear();
      } else {
        closeView();
        outbox.leave();
      }
      outbox.stop(forget);
    },
  };
}

function thresholdsOf(moment: ReleasedCampaign['moment']): number[] {
  if (!moment) return [];
  if ('kind' in moment) return moment.kind === 'scroll' ? [moment.atLeast] : [];
  return Object.values(moment).flat().flatMap(thresholdsOf);
}
