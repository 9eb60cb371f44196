import type { z } from 'zod';
import { callOut, NotCalled } from './callOut';

/** What became of a question to an outside service, for whoever counts. */
export type AskOutcome = 'answered' | 'slow' | 'refused' | 'unreadable' | 'away';

export interface Asked {
  readonly outcome: AskOutcome;
  readonly status: number | null;
  readonly tookMs: number;
}

/**
 * Asks an outside service over HTTP. Undefined wherever no answer of the right shape comes within the time: what is not known
 * is unknown, and nobody waits for it. `allowPrivate`: it may be in a private network, or on this machine.
 */
export async function ask<T>(
  url: URL,
  schema: z.ZodType<T>,
  { timeoutMs, allowPrivate, onAsked }: { timeoutMs: number; allowPrivate: boolean; onAsked: (asked: Asked) => void },
): Promise<T | undefined> {
  const began = performance.now();
  const became = (outcome: AskOutcome, status: number | null): undefined =>
    onAsked({ outcome, status, tookMs: Math.round(performance.now() - began) }) as undefined;
  try {
    const headers = { accept: 'application/json' };
    const { status, body } = await callOut({ url: String(url), method: 'GET', headers, allowPrivate, patienceMs: timeoutMs });
    if (status < 200 || status >= 300) return became('refused', status);
    const parsed = schema.safeParse(jsonOf(body));
    if (!parsed.success) return became('unreadable', status);
    became('answered', status);
    return parsed.data;
  } catch (cause) {
    if (!(cause instanceof NotCalled)) throw cause;
    return became(cause.isSlow ? 'slow' : 'away', null);
  }
}

function jsonOf(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}
