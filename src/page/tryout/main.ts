import { start } from '../start';
import { begin, Refused } from './asking';
import { mountDock } from './dock/Dock';
import { forgetSession, openSession, session } from './session';

/**
 * Begins a try-out in the place of the usual script, where this tab has a token that is good. Whoever has none, or one that is old, forged or of
 * another site, gets the page as everybody does.
 */
export default async function tryOut(script: HTMLScriptElement, usual: () => void): Promise<void> {
  const { site: key = '' } = script.dataset;
  const opened = openSession(key);
  if (!opened) return usual();
  try {
    await begin(new URL('.', script.src).href, opened.ticket);
  } catch (cause) {
    // While the collector is away the token stays: the next page may be tried again.
    if (cause instanceof Refused || opened.ticket !== undefined) forgetSession();
    return usual();
  }
  // Somebody who points does not visit: nothing is decided, and what the page says of its visitor goes nowhere.
  if (session().wants) return mountDock(true);
  start(script);
  mountDock();
}
