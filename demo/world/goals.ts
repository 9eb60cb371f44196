import type { SiteGoal } from '@/core/campaigns/campaign';

export const BOOKING = { kind: 'event', event: 'booking', days: 3, value: { prop: 'value' } } as const satisfies SiteGoal;

/** What Today counts. */
export const MAIN_GOAL = 'goal_booking';

export const GOALS: readonly { readonly id: string; readonly name: string; readonly goal: SiteGoal }[] = [
  { id: MAIN_GOAL, name: 'Bookings', goal: BOOKING },
  { id: 'goal_course', name: 'Course enrolments', goal: { kind: 'event', event: 'course_enrolled', days: 7 } },
  { id: 'goal_member', name: 'New members', goal: { kind: 'event', event: 'member_joined', days: 14 } },
];
