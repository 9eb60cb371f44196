// What is built into the simulated visits, so that results can be checked against it.

export interface Truth {
  readonly campaign: string;
  /** From so many days before the end of the simulation until so many days before it. */
  readonly fromDaysAgo: number;
  readonly untilDaysAgo: number;
  /** Shares of those who are shown the message: what they do with it. The rest leave it. */
  readonly converts: number;
  readonly clicks: number;
  readonly dismisses: number;
  /** What being shown it changes in the rest of the visit. */
  readonly effect: Effect;
  /** The only variant that does; undefined for all. */
  readonly ofVariant?: string;
}

export type Effect =
  | { readonly kind: 'none' }
  /** So many of those who would not have booked book in the same visit. */
  | { readonly kind: 'booksMore'; readonly share: number }
  /** On phones so many leave at once instead of going on. */
  | { readonly kind: 'leavesOnPhones'; readonly share: number };

const none: Effect = { kind: 'none' };
const running = (
  campaign: string,
  answers: readonly [number, number, number],
  effect: Effect = none,
  days: readonly [number, number] = [45, 0],
): Truth => ({
  campaign,
  fromDaysAgo: days[0],
  untilDaysAgo: days[1],
  converts: answers[0],
  clicks: answers[1],
  dismisses: answers[2],
  effect,
});

export const TRUTHS: readonly Truth[] = [
  running('camp_packing', [0.18, 0, 0.6]),
  running('camp_member_question', [0.09, 0.2, 0.5]),
  running('camp_basket', [0.05, 0.3, 0.4], { kind: 'booksMore', share: 0.22 }),
  running('camp_snow', [0, 0.12, 0.4]),
  { ...running('camp_offer', [0, 0.25, 0], { kind: 'booksMore', share: 0.16 }), ofVariant: 'a third less' },
  running('camp_newsletter', [0, 0.1, 0.55], { kind: 'leavesOnPhones', share: 0.7 }),
  running('camp_warden', [0.01, 0.02, 0]),
  running('camp_comparers', [0, 0, 0]),
  running('camp_welcome_back', [0.08, 0, 0.6], none, [45, 10]),
];
