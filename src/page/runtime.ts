import type { Release, ReleasedCampaign } from '@/core/release/release';
import type { Told } from '@/core/wire/items';
import { noteOutcome } from '@/core/pacing/pacing';
import type { Outcome } from '@/core/history/visitor';
import type { Truth } from '@/core/rules/truth';
import type { DecideFor } from './decide/decide';
import type { ShowMessage } from './show/show';
import { cleanLabels, cleanName, cleanTitle, cleanValues } from './clean';
import { guard } from './guard';
import { openOutbox } from './outbox';
import { createPageReader } from './pageFacts';
import { watchAddress } from './sensors/address';
import { watchInput, watchVisibility } from './sensors/attention';
import { watchClicks } from './sensors/clicks';
import { watchExit } from './sensors/exit';
import { scrollDepth, watchScroll } from './sensors/scroll';
import { listen } from './sensors/sensor';
import type { State } from './state';
import { continueOrBeginVisit, mergePacing, openState } from './state';
import { openStore } from './store';
import { uuid7 } from './uuid';
import type { PageView } from './view';
import { openView } from './view';

const PIECE_EVERY_MS = 10_000;
const SAVE_EVERY_MS = 1000;

declare const __SHOW_PART__: string;
declare const __DECIDE_PART__: string;

export interface Runtime {
  readonly did: (name: string, props?: Record<string, string | number | boolean | null>) => void;
  readonly person: (person: { id?: string; email?: string; traits?: Record<string, string | number | boolean | null> }) => void;
  readonly on: (what: string, listener: (detail: unknown) => void) => void;
  readonly stop: () => void;
}

/** Everything that runs in a page, for one site. `base` is the collector's address with a slash at the end. */
export function startRuntime({ siteKey, base }: { siteKey: string; base: string }): Runtime {
  const now = (): number => Date.now();
  const store = openStore(siteKey);
  const state: State = openState(store, now());
  const page = createPageReader();
  const listeners = new Map<string, ((detail: unknown) => void)[]>();
  const closers = new Set<() => void>();
  let release = store.read<{ hash: string; document: Release }>('release');
  let view: PageView;
  let savedAt = 0;
  let isStopped = false;

  const outbox = openOutbox({
    url: `${base}c`,
    siteKey,
    browser: state.browser,
    store,
    newId: () => uuid7(now()),
    onTold: guard('told', told),
  });
  const save = (): void => store.write('state', state);
  const tell = (what: string, detail: unknown): void => listeners.get(what)?.forEach((listener) => guard(`on ${what}`, listener)(detail));

  async function told(answer: Told): Promise<void> {
    const asked = view;
    mergePacing(state.pacing, answer.pacing);
    save();
    if (!answer.release) {
      release = undefined;
      return;
    }
    if (release?.hash !== answer.release.hash) {
      const response = await fetch(`${base}r/${siteKey}/${answer.release.hash}`, { credentials: 'omit' });
      if (!response.ok) return;
      release = { hash: answer.release.hash, document: (await response.json()) as Release };
      store.write('release', release);
    }
    await decide(asked, release.document, answer.facts);
  }

  /** Loads the part that decides, and has the view decide if it is still the current one. */
  async function decide(asked: PageView, document: Release, facts: readonly Truth[]): Promise<void> {
    if (document.campaigns.length === 0) return;
    const { decideFor } = (await import(base + __DECIDE_PART__)) as { decideFor: DecideFor };
    if (view === asked && !isStopped) view.decideWith(decideFor, document, facts);
  }

  function open(): void {
    const at = now();
    continueOrBeginVisit(state, at);
    view = openView({
      id: uuid7(at),
      openedAt: at,
      state,
      page,
      onShow: guard('show', (campaign: ReleasedCampaign, shownAt: number) => show(campaign, shownAt)),
      onActivity: (activeAt) => {
        state.visit.lastAt = activeAt;
        if (activeAt - savedAt < SAVE_EVERY_MS) return;
        savedAt = activeAt;
        save();
      },
    });
    const { url, title, labels } = page();
    outbox.put({
      kind: 'open',
      view: view.id,
      visit: state.visit.id,
      at,
      visitAt: state.visit.startedAt,
      url: url.slice(0, 4000),
      ...(title === undefined ? {} : { title: cleanTitle(title) }),
      labels: cleanLabels(labels),
      referrer: document.referrer.slice(0, 4000),
      language: navigator.languages?.[0] ?? navigator.language,
      zone: Intl.DateTimeFormat().resolvedOptions().timeZone,
      touchPoints: navigator.maxTouchPoints,
      hidden: document.visibilityState === 'hidden',
    });
    save();
    outbox.flush();
    // Rules that need no facts work at once with the release this browser knows, and without the collector.
    if (release) guard('decide', decide)(view, release.document, []);
  }

  function sendPiece(): void {
    const piece = view.takePiece(now());
    if (piece) outbox.put(piece);
  }

  function closeView(): void {
    sendPiece();
    view.end(now());
    save();
  }

  async function show(campaign: ReleasedCampaign, at: number): Promise<void> {
    const shownIn = view;
    const id = uuid7(at);
    const where = { view: shownIn.id, visit: state.visit.id };
    outbox.put({ kind: 'showing', ...where, id, campaign: campaign.id, release: release?.document.number ?? 1, at, shown: true });
    save();
    outbox.flush();
    tell('showing', { campaign: campaign.id });
    if (campaign.message.format === 'quiet') return;
    const note = (outcome: Outcome): void => {
      noteOutcome(state.pacing, campaign.id, outcome);
      outbox.put({ kind: 'outcome', showing: id, outcome, at: now() });
      save();
      outbox.flush();
      tell(outcome, { campaign: campaign.id });
    };
    const { showMessage } = (await import(base + __SHOW_PART__)) as { showMessage: ShowMessage };
    const close = showMessage(campaign.message, {
      onClick: guard('click', () => note('clicked')),
      onSend: guard('send', ({ email, fields }) => {
        noteOutcome(state.pacing, campaign.id, 'converted');
        save();
        outbox.put({
          kind: 'form',
          ...where,
          id: uuid7(now()),
          showing: id,
          campaign: campaign.id,
          at: now(),
          url: location.href.slice(0, 4000),
          fields,
          ...(email ? { email } : {}),
        });
        outbox.flush();
        tell('converted', { campaign: campaign.id });
      }),
      onClose: guard('close', (isConverted: boolean) => {
        closers.delete(close);
        if (!isConverted) note('dismissed');
        shownIn.free(campaign.id);
      }),
    });
    closers.add(close);
  }

  const signal = guard('signal', (body: Parameters<PageView['signal']>[0], at: number) => view.signal(body, at));
  const emit = (body: Parameters<PageView['signal']>[0]): void => signal(body, now());
  const leave = guard('leave', () => {
    sendPiece();
    save();
    outbox.leave();
  });
  const measureWhenLoaded = (): void => view.loaded(scrollDepth() === undefined);

  open();
  const stops = [
    watchVisibility((body) => {
      emit(body);
      if (body.s === 'hide') leave();
    }),
    watchInput((at) => signal({ s: 'input' }, at), now),
    watchScroll(emit, () => (release?.document.campaigns ?? []).flatMap(({ moment }) => thresholdsOf(moment))),
    watchExit(emit, now),
    watchClicks(emit, () => release?.document.watch ?? []),
    watchAddress(
      guard('address', () => {
        closeView();
        open();
        measureWhenLoaded();
      }),
    ),
    listen(window, ['pagehide'], leave),
    listen(
      window,
      ['pageshow'],
      guard('pageshow', (event: Event) => {
        if (!(event as PageTransitionEvent).persisted) return;
        closeView();
        open();
      }),
    ),
    listen(window, ['online'], () => outbox.flush()),
    store.onOtherTab((name) => {
      // Another tab showed something or went on with the visit: pacing and the gap are shared.
      const theirs = name === 'state' ? store.read<State>('state') : undefined;
      if (theirs?.browser !== state.browser) return;
      Object.assign(state.pacing, theirs.pacing);
      state.visit.lastAt = Math.max(state.visit.lastAt, theirs.visit.lastAt);
    }),
  ];
  if (document.readyState === 'complete') guard('loaded', measureWhenLoaded)();
  else stops.push(listen(window, ['load'], guard('loaded', measureWhenLoaded)));
  const timer = setInterval(
    guard('piece', () => {
      sendPiece();
      outbox.flush();
    }),
    PIECE_EVERY_MS,
  );

  return {
    did: (given, props = {}) => {
      const [name, clean, at] = [cleanName(given), cleanValues(props), now()];
      if (name === '') return;
      emit({ s: 'event', name, props: clean });
      outbox.put({ kind: 'event', view: view.id, visit: state.visit.id, id: uuid7(at), at, name, props: clean });
      outbox.flush();
    },
    person: ({ id, email, traits }) => {
      const at = now();
      outbox.put({
        kind: 'person',
        id: uuid7(at),
        at,
        ...(id ? { customerId: cleanName(id) } : {}),
        ...(email ? { email: String(email) } : {}),
        ...(traits ? { traits: cleanValues(traits) } : {}),
      });
      outbox.flush();
    },
    on: (what, listener) => void listeners.set(what, [...(listeners.get(what) ?? []), listener]),
    stop: () => {
      isStopped = true;
      clearInterval(timer);
      stops.forEach((stop) => stop());
      closers.forEach((close) => close());
      closeView();
      outbox.leave();
      outbox.stop();
    },
  };
}

function thresholdsOf(moment: ReleasedCampaign['moment']): number[] {
  if (!moment) return [];
  if ('kind' in moment) return moment.kind === 'scroll' ? [moment.atLeast] : [];
  return Object.values(moment).flat().flatMap(thresholdsOf);
}
