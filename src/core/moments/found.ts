import type { Moment } from './moment';
import type { Timeline } from './timeline';
import { engagedAt } from './timeline';

const seconds = (ms: number): string => `${(ms / 1000).toFixed(1)} s`;

/** What was found where a moment asked, at `t` ms since the page opened. */
export function momentFound(moment: Moment, line: Timeline, t: number): string {
  switch (moment.kind) {
    case 'open':
      return 'open';
    case 'delay':
      return moment.counting === 'engaged'
        ? seconds(engagedAt(line, t) + (moment.of === 'visit' ? (line.before.visitEngaged ?? 0) : 0))
        : seconds(t + (moment.of === 'visit' ? (line.before.visitElapsed ?? 0) : 0));
    case 'scroll':
      return `${line.depth} %`;
    case 'scrollStart':
      return line.scrolled ? 'scrolled' : 'not scrolled';
    case 'reach':
      return line.reached.has(moment.selector) ? 'reached' : 'not reached';
    case 'visible':
      return `${line.shares.get(moment.selector) ?? 0} % in view`;
    case 'click':
      return line.clickedOn.has(moment.selector) ? 'clicked' : 'not clicked';
    case 'clicks':
      return `${line.clicks + (moment.of === 'visit' ? (line.before.visitClicks ?? 0) : 0)} clicks`;
    case 'event':
      return `${line.events.filter(({ name }) => name === moment.name).length} of that name`;
    case 'idle':
      return line.visible ? `${seconds(t - line.lastInput)} without input` : 'the tab is hidden';
    case 'exit':
      return line.signal?.s === 'exit' ? 'moves to leave' : 'does not move to leave at this instant';
  }
}
