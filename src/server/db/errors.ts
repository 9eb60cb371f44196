// Refusals that saving something of a site may meet; the edges turn them into answers.
import { violates } from './queryable';

export class NameTaken extends Error {
  readonly code = 'name.taken';
  constructor(taken: string, options?: ErrorOptions) {
    super(`Something else here is already called “${taken}”`, options);
  }
}

/** Somebody saved in the meantime: what they saved must not be overwritten unseen. */
export class Outdated extends Error {
  readonly code = 'revision.outdated';
  constructor() {
    super('This was changed elsewhere since you opened it');
  }
}

/** Throws `NameTaken` in place of a violation of `constraint`. */
export async function orNameTaken<T>(name: string, constraint: string, work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (cause) {
    throw violates(cause, constraint) ? new NameTaken(name, { cause }) : cause;
  }
}
