// In the place of `../consent`: nothing is recorded in a try-out, so nobody has to agree.
export type { Choice } from '../consent';

export const mayRecord = (): boolean => true;
export const asksForPrivacy = (): boolean => false;
export const choiceOf = (): undefined => undefined;
