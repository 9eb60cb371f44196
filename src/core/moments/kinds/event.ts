import { z } from 'zod';
import { propsHold, whereSchema, whereWords } from '../../people/kinds/did';
import { quoted } from '../../rules/valueTest';
import type { Timeline } from '../timeline';

export const eventSchema = () =>
  z.strictObject({ kind: z.literal('event'), name: z.string().min(1).max(200), where: whereSchema().optional() });
export type EventMoment = z.infer<ReturnType<typeof eventSchema>>;

/** `now` is the UTC ms of the instant, for tests on dates. */
export function eventHolds({ name, where }: EventMoment, line: Timeline, now: number): boolean {
  return line.events.some((event) => event.name === name && propsHold(where, event.props, now));
}

export const eventWords = ({ name, where }: EventMoment): string => `do ${quoted(name)}${whereWords(where)}`;
