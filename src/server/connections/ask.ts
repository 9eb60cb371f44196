import type { z } from 'zod';

/** What became of a question to an outside service, for whoever counts. */
export type AskOutcome = 'answered' | 'slow' | 'refused' | 'unreadable' | 'away';

/**
 * Asks an outside service over HTTP. Undefined wherever no answer of the right shape comes within the time: what is not known
 * is unknown, and nobody waits for it.
 */
export async function ask<T>(
  url: URL,
  schema: z.ZodType<T>,
  { timeoutMs, onOutcome }: { timeoutMs: number; onOutcome: (outcome: AskOutcome) => void },
): Promise<T | undefined> {
  let outcome: AskOutcome = 'answered';
  try {
    const response = await fetch(url, { signal: AbortSignal.timeout(timeoutMs), headers: { accept: 'application/json' } });
    if (!response.ok) {
      outcome = 'refused';
      await response.body?.cancel();
      return undefined;
    }
    const parsed = schema.safeParse(await response.json());
    if (parsed.success) return parsed.data;
    outcome = 'unreadable';
    return undefined;
  } catch (cause) {
    const { name } = cause as Error;
    outcome = name === 'TimeoutError' ? 'slow' : name === 'SyntaxError' ? 'unreadable' : 'away';
    return undefined;
  } finally {
    onOutcome(outcome);
  }
}
