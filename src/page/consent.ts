export type Choice = 'granted' | 'denied';

/**
 * May this browser be recorded? An explicit choice decides; without one a browser that asks not to be tracked is not, and
 * neither is anyone where the snippet says that consent has to be asked for.
 */
export function mayRecord(choice: Choice | undefined, asks: boolean, signal: boolean): boolean {
  return choice ? choice === 'granted' : !asks && !signal;
}

interface Privacy {
  readonly globalPrivacyControl?: boolean;
  readonly doNotTrack?: string | null;
}

/** Global Privacy Control, or the older "do not track". */
export const asksForPrivacy = ({ globalPrivacyControl, doNotTrack }: Privacy): boolean =>
  globalPrivacyControl === true || doNotTrack === '1';

/** What is none, by another's hand, is no choice. */
export const choiceOf = (given: unknown): Choice | undefined => (given === 'granted' || given === 'denied' ? given : undefined);
