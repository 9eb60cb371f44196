import type { Stop } from '../sensors/sensor';
import { listen as listenToAll } from '../sensors/sensor';

export type { Emit, Stop } from '../sensors/sensor';

/** On the element that the dock stands in. */
export const DOCK = 'data-crindle-dock';

const isDock = (target: EventTarget): boolean => target instanceof Element && target.hasAttribute(DOCK);

/** In the place of `../sensors/sensor`: what is done in the dock was not done on the page. A pointer that leaves the window is one that leaves. */
export const listen = (target: EventTarget, types: readonly string[], listener: (event: Event) => void): Stop =>
  listenToAll(target, types, (event) => {
    if (event.type !== 'mouseout' && event.composedPath().some(isDock)) return;
    listener(event);
  });
