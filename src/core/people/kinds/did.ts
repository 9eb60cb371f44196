import { z } from 'zod';
import { boundsInRange, isNever, timesSchema, timesWords } from '../../rules/range';
import type { Truth } from '../../rules/truth';
import { quoted, testWords, valueHolds, valueTestSchema } from '../../rules/valueTest';
import type { Subject } from '../subject';
import { inWindow, visitsIn } from '../subject';
import { withinSchema, withinWords } from '../within';

export const whereSchema = () => z.array(z.strictObject({ key: z.string().min(1).max(200), test: valueTestSchema() })).max(20);
export type Where = z.infer<ReturnType<typeof whereSchema>>;

export const didSchema = () =>
  z.strictObject({
    kind: z.literal('did'),
    event: z.string().min(1).max(200),
    where: whereSchema().optional(),
    times: timesSchema().optional(),
    within: withinSchema(),
  });
export type Did = z.infer<ReturnType<typeof didSchema>>;

export function propsHold(where: Where | undefined, props: Readonly<Record<string, unknown>> | undefined, now: number): boolean {
  return (where ?? []).every(({ key, test }) => valueHolds(ownValue(props, key), test, now));
}

/** A key such as `constructor` must not find what every object inherits. */
export function ownValue(values: Readonly<Record<string, unknown>> | undefined, key: string): unknown {
  return values && Object.hasOwn(values, key) ? values[key] : undefined;
}

export function didHolds({ event, where, times, within }: Did, subject: Subject): Truth {
  let count = 0;
  for (const visit of visitsIn(within, subject)) {
    for (const { at, name, props } of visit.events) {
      if (name === event && inWindow(at, within, subject) && propsHold(where, props, subject.now)) count++;
    }
  }
  return boundsInRange(count, count, times);
}

export function whereWords(where: Where | undefined): string {
  if (!where?.length) return '';
  return ` where ${where.map(({ key, test }) => `${key} ${testWords(test)}`).join(' and ')}`;
}

export function didWords({ event, where, times, within }: Did): string {
  const what = `${quoted(event)}${whereWords(where)}`;
  return isNever(times) ? `never did ${what}${withinWords(within)}` : `did ${what}${timesWords(times)}${withinWords(within)}`;
}
