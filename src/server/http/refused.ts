import type { Issue } from '@/core/parsing/parse';

/** An expected refusal with its HTTP status. */
export class Refused extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly issues?: readonly Issue[],
  ) {
    super(message);
  }
}
