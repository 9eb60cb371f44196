import { ofDocument } from '../own';

/** Names that every common list of filters hides. */
const BAIT = 'ads ad-banner adsbox ad-placement';
const WAIT_MS = 120;

/** Puts an empty element into the page for a moment and looks whether something hides it. */
export function checkAdBlocker(tell: (hasOne: boolean) => void): void {
  const bait = document.createElement('div');
  bait.className = BAIT;
  bait.setAttribute('aria-hidden', 'true');
  bait.style.cssText = 'position:absolute;left:-999px;top:0;width:1px;height:1px';
  ofDocument('documentElement').append(bait);
  setTimeout(() => {
    tell(bait.offsetHeight === 0 || getComputedStyle(bait).display === 'none' || getComputedStyle(bait).visibility === 'hidden');
    bait.remove();
  }, WAIT_MS);
}
