import type { PieceItem } from '@/core/wire/items';
import type { Dice } from '../dice';
import type { Person } from './people';
import type { Step } from './journey';

type Signal = PieceItem['signals'][number];

/** What the page script would have recorded of one page view: scroll in steps of five percent, pauses, clicks and exits. */
export function playStep(
  { seconds, depth, path }: Step,
  { dice, device, isLast }: { dice: Dice; device: Person['device']; isLast: boolean },
): { signals: Signal[]; leaveMs: number } {
  const leaveMs = Math.round(seconds * 1000);
  const signals: Signal[] = [];
  const steps = Math.floor(depth / 5);
  // Reading goes on in bursts over the first nine tenths of the time.
  for (let index = 1; index <= steps; index++) {
    const t = (leaveMs * 0.9 * (index - dice.next() * 0.8)) / steps;
    signals.push({ t: Math.round(Math.max(t, 300)), s: 'scroll', depth: index * 5 });
  }
  for (let t = dice.around(2500, 0.6); t < leaveMs; t += dice.around(7000, 0.8)) signals.push({ t: Math.round(t), s: 'input' });
  if (dice.chance(0.4)) signals.push({ t: Math.round(leaveMs * dice.between(0.3, 0.98)), s: 'click', on: [], what: 'p' });
  if (seconds > 60 && dice.chance(0.15)) {
    const away = leaveMs * dice.between(0.3, 0.6);
    signals.push(
      { t: Math.round(away), s: 'hide' },
      { t: Math.round(away + Math.min(leaveMs - away - 500, dice.around(15_000, 0.5))), s: 'show' },
    );
  }
  // A pointer on its way to the tab bar; with a finger it is told by a fast scroll back up.
  const leavesBy = device.category === 'desktop' ? 0.62 : 0.3;
  if (isLast && leaveMs > 4000 && dice.chance(leavesBy)) signals.push({ t: leaveMs - Math.round(dice.between(400, 2500)), s: 'exit' });
  if (!isLast && dice.chance(0.12)) signals.push({ t: Math.round(leaveMs * dice.between(0.5, 0.95)), s: 'exit' });
  if (path === '/book' && seconds > 12)
    signals.push({ t: Math.round(leaveMs * 0.4), s: 'event', name: 'dates_chosen', props: { night: 'soon' } });
  signals.sort((a, b) => a.t - b.t);
  return { signals: withoutHiddenInput(signals).filter(({ t }) => t <= leaveMs), leaveMs };
}

/** Nobody scrolls or clicks in a tab they do not see. */
function withoutHiddenInput(signals: readonly Signal[]): Signal[] {
  let isHidden = false;
  return signals.filter(({ s }) => {
    if (s === 'hide') isHidden = true;
    if (s === 'show') isHidden = false;
    return !isHidden || s === 'hide' || s === 'event';
  });
}
