import type { PieceItem } from '@/core/wire/items';
import type { Dice } from '@/core/random/dice';
import type { Device } from './people';
import type { JourneyStep } from './journey';
import { FRAME_MS, withInput } from './input';

type Signal = PieceItem['signals'][number];
type Props = Record<string, string | number | boolean>;

/** What pages report by themselves, with how many of those who stay a little do it, and when (share of the time there). */
const REPORTS: readonly {
  readonly path: RegExp;
  readonly event: string;
  readonly share: number;
  readonly at: number;
  readonly props: (dice: Dice) => Props;
}[] = [
  { path: /^\/book$/, event: 'dates_chosen', share: 0.85, at: 0.4, props: () => ({ night: 'soon' }) },
  { path: /^\/book\/guests$/, event: 'guests_chosen', share: 0.9, at: 0.4, props: (dice) => ({ guests: dice.whole(1, 6) }) },
  { path: /^\/gear-hire\/.+/, event: 'kit_added', share: 0.25, at: 0.8, props: () => ({ kit: 'winter-kit' }) },
  { path: /^\/gear-hire\/.+/, event: 'quote_opened', share: 0.15, at: 0.7, props: () => ({ nights: 1 }) },
  { path: /^\/courses\/.+/, event: 'video_played', share: 0.4, at: 0.5, props: () => ({ film: 'avalanche-awareness' }) },
  { path: /^\/courses\/.+/, event: 'course_enrolled', share: 0.09, at: 0.9, props: () => ({ course: 'avalanche-awareness' }) },
  { path: /^\/membership$/, event: 'member_joined', share: 0.06, at: 0.9, props: () => ({ plan: 'family' }) },
];

/** What there is to click on: on every page, and on those with a form. */
const PRINTS = ['p', 'p.lead', 'a', 'h1', 'path'];
const hasForm = (path: string): boolean => /^\/(membership|account|book(?!\/done).*)$/.test(path);
/** Elements that rules watch, on the pages that have them: how deep one reads until they come into view, and are there whole. */
const ELEMENTS: readonly { readonly path: RegExp; readonly selector: string; readonly from: number; readonly whole: number }[] = [
  { path: /^\/membership$/, selector: '#join', from: 45, whole: 75 },
];
export const WATCHED = ELEMENTS.map(({ selector }) => selector);

/** On touch screens moving to leave is told by a way back up after some reading: in percent of a usual page. */
const READ_PERCENT = 25;
const BACK_PERCENT = 15;

/** What the page script would have recorded of one page view: scroll in steps of five percent, pauses, clicks, exits and reports. */
export function playStep(
  { seconds, depth, path }: JourneyStep,
  { dice, device, isLast }: { dice: Dice; device: Device; isLast: boolean },
): { signals: Signal[]; leaveMs: number } {
  const leaveMs = Math.round(seconds * 1000);
  const signals: Signal[] = [];
  const steps = Math.floor(depth / 5);
  // Reading goes on in bursts over the first nine tenths of the time.
  for (let index = 1; index <= steps; index++) {
    const t = Math.round(Math.max((leaveMs * 0.9 * (index - dice.next() * 0.8)) / steps, 300));
    signals.push({ t, s: 'scroll', depth: index * 5 });
    for (const { path: on, selector, from, whole } of ELEMENTS) {
      if (!on.test(path)) continue;
      if (index * 5 >= from && (index - 1) * 5 < from) signals.push({ t, s: 'seen', selector, share: 12, top: true });
      if (index * 5 >= whole && (index - 1) * 5 < whole) signals.push({ t, s: 'seen', selector, share: 100, top: true });
    }
  }
  // The pointer and the finger also move to no purpose.
  const moves: number[] = [];
  for (let t = dice.around(2500, 0.6); t < leaveMs; t += dice.around(7000, 0.8)) moves.push(Math.round(t));
  if (dice.chance(0.4))
    signals.push({
      t: Math.round(leaveMs * dice.between(0.3, 0.98)),
      s: 'click',
      on: [],
      what: dice.pick(hasForm(path) ? [...PRINTS, 'button.act'] : PRINTS),
    });
  if (seconds > 60 && dice.chance(0.15)) {
    const away = leaveMs * dice.between(0.3, 0.6);
    signals.push(
      { t: Math.round(away), s: 'hide' },
      { t: Math.round(away + Math.min(leaveMs - away - 500, dice.around(15_000, 0.5))), s: 'show' },
    );
  }
  // A pointer on its way to the tab bar; with a finger a fast scroll back up.
  const hasPointer = device.category === 'desktop';
  const movesToLeave = (t: number): void => {
    if (hasPointer) signals.push({ t, s: 'exit' });
    else if (depth >= READ_PERCENT)
      signals.push({ t, s: 'exit' }, { t: t + FRAME_MS, s: 'scroll', depth: Math.max(0, 5 * steps - BACK_PERCENT) });
  };
  if (isLast && leaveMs > 4000 && dice.chance(hasPointer ? 0.62 : 0.3)) movesToLeave(leaveMs - Math.round(dice.between(400, 2500)));
  if (!isLast && dice.chance(0.12)) movesToLeave(Math.round(leaveMs * dice.between(0.5, 0.95)));
  for (const { path: on, event, share, at, props } of REPORTS)
    if (on.test(path) && seconds > 8 && dice.chance(share))
      signals.push({ t: Math.round(leaveMs * at), s: 'event', name: event, props: props(dice) });
  if (path === '/book/done') {
    const guests = dice.whole(1, 6);
    const props = {
      value: guests * 34,
      hut: dice.pick(['Skarn Shelter', 'Upper Moss', 'Lantern Col', 'Three Cairns', 'Windgate']),
      nights: 1,
    };
    signals.push({ t: Math.min(300, leaveMs), s: 'event', name: 'booking', props });
  }
  signals.sort((a, b) => a.t - b.t);
  const done = inOneFrame(whileSeen(signals.filter(({ t }) => t <= leaveMs)));
  // A page that is left is hidden first.
  const closed: Signal[] = done.at(-1)?.s === 'hide' ? done : [...done, { t: leaveMs, s: 'hide' }];
  const isSeen = (at: number): boolean => closed.findLast(({ t, s }) => t <= at && (s === 'hide' || s === 'show'))?.s !== 'hide';
  return { signals: withInput(closed, moves.filter(isSeen), leaveMs), leaveMs };
}

/** Nobody scrolls or clicks in a tab they do not see. */
function whileSeen(signals: readonly Signal[]): Signal[] {
  let isHidden = false;
  return signals.filter(({ s }) => {
    if (s === 'hide') isHidden = true;
    if (s === 'show') isHidden = false;
    return !isHidden || s === 'hide' || s === 'event';
  });
}

/** Of scrolling within one frame only the end is measured, and where it stands as before nothing is told. */
function inOneFrame(signals: readonly Signal[]): Signal[] {
  const scrolls = signals.flatMap(({ s, t }) => (s === 'scroll' ? [t] : []));
  let [depth, nth] = [-1, 0];
  return signals.filter((signal) => {
    if (signal.s !== 'scroll') return true;
    const next = scrolls[++nth];
    if ((next !== undefined && next - signal.t < FRAME_MS) || signal.depth === depth) return false;
    depth = signal.depth;
    return true;
  });
}
