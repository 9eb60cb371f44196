import { guard } from './guard';
import type { Runtime } from './runtime';
import { startRuntime } from './runtime';

const METHODS = ['did', 'person', 'on', 'stop'] as const;
type Method = (typeof METHODS)[number];
type Call = [Method, ...unknown[]];
type Global = Partial<Record<Method, (...given: unknown[]) => void>> & { q?: Call[]; running?: boolean };

/** Takes over the stub in the snippet, or makes the one global itself; a second copy of the script does nothing. */
function start(script: HTMLScriptElement): void {
  const host = window as Window & { crindle?: Global };
  if (host.crindle?.running) return;
  const siteKey = script.dataset['site'];
  if (!siteKey) return console.warn('crindle: the script tag has no data-site with the site’s key');
  const waiting = host.crindle?.q ?? [];
  const runtime: Runtime = startRuntime({ siteKey, base: new URL('.', script.src).href });
  const methods = METHODS.map((name) => [name, guard(name, runtime[name] as (...given: unknown[]) => unknown)] as const);
  const global: Global = Object.assign(host.crindle ?? {}, Object.fromEntries(methods), { running: true });
  host.crindle = global;
  for (const [name, ...given] of waiting) global[name]?.(...given);
}

const script = document.currentScript;
if (script instanceof HTMLScriptElement) guard('start', start)(script);
