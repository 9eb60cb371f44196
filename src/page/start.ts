import type { Choice } from './consent';
import { asksForPrivacy, choiceOf, mayRecord } from './consent';
import { guard } from './guard';
import type { Runtime } from './runtime';
import { startRuntime } from './runtime';
import { listen } from './sensors/sensor';
import { openStore } from './store';

type Method = 'did' | 'person' | 'tag' | 'score' | 'consent' | 'open' | 'on' | 'stop';
type Call = [Method, ...unknown[]];
type Run = (...given: unknown[]) => void;
type Global = Partial<Record<Method, Run>> & { q?: Call[]; running?: () => void };

/** Takes over the stub in the snippet, or makes the one global itself; a second copy of the script is reported and does nothing. */
export function start(script: HTMLScriptElement): void {
  const host = window as Window & { crindle?: Global };
  // A form of the page may go by our name: what it is called is no property of the window's own.
  const given = Object.hasOwn(host, 'crindle') ? host.crindle : undefined;
  if (given?.running) return given.running();
  const { site: siteKey, consent: asked, pageEvent } = script.dataset;
  if (!siteKey) return console.warn('crindle: no data-site');
  const base = new URL('.', script.src).href;
  const listeners: (readonly [what: unknown, listener: Run])[] = [];
  let runtime: Runtime | undefined;
  let isStopped = false;
  const store = openStore(siteKey);
  const isAgreed = (): boolean => store.read('consent') === 'granted';

  const run = (choice: Choice | undefined): void => {
    const may = mayRecord(choice, asked === 'ask', asksForPrivacy(navigator));
    if (!may && runtime) {
      runtime.stop(true);
      runtime = undefined;
    }
    // What is erased when it is withdrawn is everything but that it was; before consent nothing is written.
    if (choice) store.write('consent', choice);
    if (may && !runtime && !isStopped) runtime = startRuntime({ siteKey, base, pageEvent, consent: isAgreed, listeners });
  };
  const methods = {
    consent: (choice) => choiceOf(choice) && run(choice as Choice),
    on: (what, listener) => void listeners.push([what, listener as Run]),
    stop: () => {
      isStopped = true;
      runtime?.stop();
      runtime = undefined;
    },
  } as Record<Method, Run>;
  for (const name of ['did', 'person', 'tag', 'score', 'open'] as const)
    methods[name] = (given, more) => (runtime?.[name] as Run | undefined)?.(given, more);
  const global: Global = given ?? {};
  const waiting = global.q ?? [];
  for (const name of Object.keys(methods) as Method[]) global[name] = guard(name, methods[name]);
  global.running = guard('twice', () => runtime?.fault('twice', 'twice'));
  // Not an assignment: where the page has frozen its window that would throw.
  Reflect.set(host, 'crindle', global);
  const follow = guard('consent', () => run(choiceOf(store.read('consent'))));
  follow();
  // Chosen in another tab, or while this page was put by.
  store.onOtherTab((name) => name === 'consent' && follow());
  listen(window, ['pageshow'], follow);
  for (const [name, ...given] of waiting) global[name]?.(...given);
}
