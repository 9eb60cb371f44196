// What is hard to do by hand, done for whoever tries.
import { scroller } from '../../sensors/scroll';
import { now } from '../clock';
import { saveSession, session, startAfresh } from '../session';
import { wake, watchedView } from '../view';

const TICK_MS = 40;
/** A wait takes about this long, however long it is. */
const TAKES_MS = 1200;
const READS_EVERY_MS = 5000;

let running: ReturnType<typeof setInterval> | undefined;

/**
 * Lets the clock hurry by `seconds`. Somebody who reads touches the page now and then; somebody idle does not. `onTick` is told what is left, in
 * seconds; 0 when it is over.
 */
export function hurry(seconds: number, { reads }: { reads: boolean }, onTick: (left: number) => void): void {
  clearInterval(running);
  const kept = session();
  const step = Math.max(TICK_MS, Math.min(1000, (seconds * 1000) / (TAKES_MS / TICK_MS)));
  let left = seconds * 1000;
  let sinceRead = 0;
  running = setInterval(() => {
    const by = Math.min(step, left);
    left -= by;
    sinceRead += by;
    kept.ahead += by;
    if (reads && sinceRead >= READS_EVERY_MS) {
      sinceRead = 0;
      watchedView()?.view.signal({ s: 'input' }, now());
    }
    wake();
    onTick(Math.ceil(left / 1000));
    if (left > 0) return;
    clearInterval(running);
    saveSession();
  }, TICK_MS);
}

export const moveToLeave = (): void => watchedView()?.view.signal({ s: 'exit' }, now());

/** Scrolls what the reader scrolls; a page that cannot be scrolled counts as read. */
export function scrollTo(percent: number): void {
  const what = scroller();
  const room = what.scrollHeight - what.clientHeight;
  if (room > 1) what.scrollTo({ top: Math.ceil((room * percent) / 100), behavior: 'instant' });
  else watchedView()?.view.signal({ s: 'whole' }, now());
}

export function report(name: string, props: Record<string, string>): void {
  (window as unknown as { crindle?: { did?: (name: string, props: object) => void } }).crindle?.did?.(name, props);
}

/** The next visit, so many days later, begins with this page. */
export function comeBack(days: number): void {
  session().ahead += days * 86_400_000;
  saveSession();
  location.reload();
}

export function freshVisitor(): void {
  startAfresh();
  // What the page does as it is left would be noted with whoever was here before.
  addEventListener('pagehide', startAfresh);
  location.reload();
}
