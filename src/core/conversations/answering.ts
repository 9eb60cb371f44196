// Who of the team gets a conversation.
import { z } from 'zod';

/** `who`: these members, or everybody who answers. `knows`: whoever wrote with this person last comes first. `next`: after so many minutes without an answer. */
export const answeringSchema = z.strictObject({
  who: z.union([z.literal('all'), z.array(z.int().min(1)).min(1).max(50)]),
  how: z.enum(['turn', 'least']),
  knows: z.boolean(),
  next: z.int().min(1).max(240).nullable(),
});
export type Answering = z.infer<typeof answeringSchema>;
export const USUAL: Answering = { who: 'all', how: 'turn', knows: true, next: 5 };

export interface Candidate {
  readonly member: number;
  readonly isHere: boolean;
  /** Open conversations that they have. */
  readonly open: number;
  /** When they were given one last, UTC ms; null: never. */
  readonly givenAt: number | null;
}

/** The member who gets it; undefined where nobody is here who may. `knew`: who wrote with this person last. `passed`: who had it and did not answer. */
export function chooseMember(
  candidates: readonly Candidate[],
  { who, how, knows }: Answering,
  { knew, passed = [] }: { knew?: number | undefined; passed?: readonly number[] } = {},
): number | undefined {
  const able = candidates.filter(({ member, isHere }) => isHere && (who === 'all' || who.includes(member)) && !passed.includes(member));
  if (knows && able.some(({ member }) => member === knew)) return knew;
  const rank = (one: Candidate): readonly number[] => {
    const turn = one.givenAt ?? -Infinity;
    return how === 'least' ? [one.open, turn, one.member] : [turn, one.open, one.member];
  };
  return able.reduce<Candidate | undefined>((best, one) => (best && !isBefore(rank(one), rank(best)) ? best : one), undefined)?.member;
}

function isBefore(a: readonly number[], b: readonly number[]): boolean {
  for (const [nth, value] of a.entries()) if (value !== b[nth]) return value < (b[nth] ?? 0);
  return false;
}
