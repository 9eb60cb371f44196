import { framesIn } from './frames';
import type { AnswerTo, Task } from './task';

/** The process that counts and rehearses cannot be reached, or ended while it was asked. */
export class AnalysisAway extends Error {
  readonly code = 'analysis.away';
  constructor(cause?: unknown) {
    super(
      'What counts and rehearses is away at present; everything else works. It is started again by itself: try again in some seconds.',
      { cause },
    );
  }
}

/** Each site has its analysis: one of several addresses, by its number, so that nobody keeps what another one keeps. */
export function analysisOf(site: number, addresses = process.env['CRINDLE_ANALYSIS_URL'] ?? 'http://127.0.0.1:4703'): string {
  const all = addresses.split(/[\s,]+/).filter(Boolean);
  return (all[site % all.length] ?? '').replace(/\/$/, '');
}

/**
 * Gives a task to the process that counts and rehearses; `onPart` gets what is known on the way. Rejects when `signal` ends it.
 * @throws AnalysisAway where it is away
 */
export async function analyse<T extends Task>(
  task: T,
  { signal, onPart }: { signal?: AbortSignal; onPart?: (part: AnswerTo<T>) => void } = {},
): Promise<AnswerTo<T>> {
  const over = new AbortController();
  const end = (): void => over.abort(new DOMException('Nobody waits for it any more', 'AbortError'));
  if (signal?.aborted) end();
  signal?.addEventListener('abort', end, { once: true });
  try {
    const response = await ask(task, over.signal);
    for await (const frame of framesIn(response)) {
      if (frame.kind === 'part') onPart?.(frame.value as AnswerTo<T>);
      if (frame.kind === 'last') return frame.value as AnswerTo<T>;
      if (frame.kind === 'failed') throw new Failed(frame.message);
    }
    throw new Error('The answer ended before its last word');
  } catch (cause) {
    if (over.signal.aborted) throw over.signal.reason;
    if (cause instanceof Failed) throw cause;
    throw new AnalysisAway(cause);
  } finally {
    signal?.removeEventListener('abort', end);
  }
}

class Failed extends Error {}

async function ask(task: Task, signal: AbortSignal): Promise<AsyncIterable<Uint8Array>> {
  const token = process.env['CRINDLE_ANALYSIS_TOKEN'];
  const response = await fetch(`${analysisOf(task.site)}/ask`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', ...(token ? { authorization: `Bearer ${token}` } : {}) },
    body: JSON.stringify(task),
    signal,
    cache: 'no-store',
  });
  if (response.ok && response.body) return response.body;
  throw new Failed(`The analysis answered ${response.status}: ${(await response.text()).slice(0, 300)}`);
}
