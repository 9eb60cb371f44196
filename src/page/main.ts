import type { Choice } from './consent';
import { asksForPrivacy, mayRecord, readChoice } from './consent';
import { guard } from './guard';
import type { Runtime } from './runtime';
import { startRuntime } from './runtime';
import { openStore } from './store';

type Method = 'did' | 'person' | 'tag' | 'score' | 'consent' | 'open' | 'on' | 'stop';
type Call = [Method, ...unknown[]];
type Run = (...given: unknown[]) => void;
type Global = Partial<Record<Method, Run>> & { q?: Call[]; running?: () => void };

/** Takes over the stub in the snippet, or makes the one global itself; a second copy of the script is reported and does nothing. */
function start(script: HTMLScriptElement): void {
  const host = window as Window & { crindle?: Global };
  if (host.crindle?.running) return host.crindle.running();
  const { site: siteKey, consent: asked, pageEvent } = script.dataset;
  if (!siteKey) return console.warn('crindle: no data-site');
  const base = new URL('.', script.src).href;
  const listeners = new Map<string, Run[]>();
  let runtime: Runtime | undefined;
  let isStopped = false;

  const run = (choice: Choice | undefined): void => {
    const may = mayRecord(choice, { asks: asked === 'ask', signal: asksForPrivacy(navigator) });
    if (may && !runtime && !isStopped) runtime = startRuntime({ siteKey, base, pageEvent, consent: choice === 'granted', listeners });
    if (may || !runtime) return;
    runtime.stop(true);
    runtime = undefined;
  };
  // The store is opened only where something is in it or may be: before consent nothing is written.
  const choose = (choice: unknown): void => {
    if (choice !== 'granted' && choice !== 'denied') return;
    run(choice);
    openStore(siteKey).write('consent', choice);
  };
  const methods: Record<Method, Run> = {
    did: (...given) => runtime?.did(given[0], given[1]),
    person: (given) => runtime?.person(given as never),
    tag: (name) => runtime?.tag(name),
    score: (points) => runtime?.score(points),
    consent: choose,
    open: (id) => runtime?.open(String(id)),
    on: (what, listener) => void listeners.set(String(what), [...(listeners.get(String(what)) ?? []), listener as Run]),
    stop: () => {
      isStopped = true;
      runtime?.stop(false);
      runtime = undefined;
    },
  };
  const global: Global = host.crindle ?? {};
  const waiting = global.q ?? [];
  for (const name of Object.keys(methods) as Method[]) global[name] = guard(name, methods[name]);
  Object.defineProperty(global, 'running', { value: guard('twice', () => runtime?.fault('twice', 'The script is on the page twice')) });
  // Not an assignment: where the page has frozen its window that would throw.
  Reflect.set(host, 'crindle', global);
  run(readChoice(openStore(siteKey)));
  for (const [name, ...given] of waiting) global[name]?.(...given);
}

const script = document.currentScript;
/** A page that is made ready before anybody looks at it begins when somebody does. */
const isPrerendering = (document as Document & { prerendering?: boolean }).prerendering === true;
if (script instanceof HTMLScriptElement) {
  const begin = (): void => guard('start', start)(script);
  if (isPrerendering) document.addEventListener('prerenderingchange', begin, { once: true });
  else begin();
}
