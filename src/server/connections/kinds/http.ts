import { verdictOf } from '@/core/connections/retry';
import { callOut, NotCalled } from '../callOut';
import type { Exchanged } from './kind';

/**
 * Calls, and says what it comes to; why nothing came back is a reason to try again, unless it will never be otherwise. `isAnswer`: whether a body is one
 * of the service's own; whatever else answers in its place has not taken anything.
 */
export async function exchange(
  call: Parameters<typeof callOut>[0],
  now: number,
  isAnswer: (body: string) => boolean = () => true,
): Promise<Exchanged> {
  try {
    const { status, retryAfter, body } = await callOut(call);
    const verdict = verdictOf(status, { retryAfter, now });
    const reason = 'answered something that is not of the service';
    if (verdict.is === 'sent' && !isAnswer(body)) return { verdict: { is: 'later', reason }, status, note: reason };
    return { verdict, status, note: verdict.is === 'sent' ? '' : verdict.reason };
  } catch (cause) {
    if (!(cause instanceof NotCalled)) throw cause;
    return { verdict: { is: cause.isForGood ? 'never' : 'later', reason: cause.message }, status: null, note: cause.message };
  }
}
