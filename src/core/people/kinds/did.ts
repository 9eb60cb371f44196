import { z } from 'zod';
import { boundsInRange, isNever, timesSchema, timesWords } from '../../logic/range';
import type { Truth } from '../../logic/truth';
import { quoted, testWords, valueHolds, valueTestSchema } from '../../logic/valueTest';
import type { Subject } from '../subject';
import { inWindow, visitsIn } from '../subject';
import { withinSchema, withinWords } from '../within';
import type { PeopleKind } from '../kind';
import { neverTimes } from '../times';
import { isShorter } from '../partOf';
import { called, countOf, spoken } from '../../typing/spoken';
import { shape, timesExample, whereExample, withinExample } from '../../testing/examples';
import { whereTyped } from '../../typing/whereTyped';

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

export const didKind: PeopleKind<Did, 'server'> = {
  kind: 'did',
  topic: 'didHere',
  schema: didSchema,
  holds: didHolds,
  words: didWords,
  found: (condition, subject) =>
    `${
      visitsIn(condition.within, subject)
        .flatMap(({ events }) => events)
        .filter(({ name, at }) => name === condition.event && inWindow(at, condition.within, subject)).length
    } of that name`,
  judgedIn: 'server',
  isSupplied: true,
  counting: { by: 'record', of: () => 'events', looksAt: ({ event }, entry) => entry.name === event },
  changes: {
    window: ({ within }) => within,
    events: true,
    unforeseen: ({ where }) => (where ?? []).some(({ test }) => test.op === 'daysAgo'),
  },
  reasoning: {
    quantity: {
      range: ({ times }) => times ?? { min: 1 },
      isWhole: true,
      least: 0,
      isPartOf: (part, whole) =>
        part.event === whole.event &&
        isShorter(part.within, whole.within) &&
        (!whole.where?.length || JSON.stringify(whole.where) === JSON.stringify(part.where ?? [])),
    },
  },
  editor: {
    label: 'Did an event',
    make: (recorded) => ({ kind: 'did', event: recorded?.events[0]?.value ?? 'purchase', times: { min: 1 } }),
    rows: [
      [
        { field: 'words', text: 'did' },
        { field: 'text', key: 'event', label: 'Event', list: 'events' },
        { field: 'range', key: 'times', label: 'Times', least: 0, most: 1000, unit: 'times', allowNever: true, otherwise: { min: 1 } },
        { field: 'within' },
      ],
      [{ field: 'where' }],
    ],
  },
  typed: (whole, { events }) => {
    const { where, rest } = whereTyped(whole);
    const heard = spoken(rest, {
      says: whole.isNegated ? [...SAYS, 'do', 'does'] : SAYS,
      also: ['times', 'time', 'the event', 'event', 'an event', 'ever', 'already'],
      amounts: ['times', 'none'],
      window: true,
      quoted: true,
      name: true,
    });
    const [amount] = rest.amounts;
    const times = amount ? countOf(amount) : { min: 1 };
    if (!times) return [];
    const body = { ...(where.length ? { where } : {}), times, ...(rest.window === undefined ? {} : { within: rest.window }) };
    const leaf = (event: string): Did => ({ kind: 'did', event, ...body });
    const [quotedName] = rest.quoted;
    if (heard && quotedName && heard.name === '') return [{ leaf: leaf(quotedName), sureness: 3 }];
    const name = heard?.name ?? '';
    const met = called(heard ? name : rest.text, events, ({ value }) => value);
    const found = met.map(({ one, sureness }) => ({ leaf: leaf(one.value), sureness: heard && sureness === 1 ? 3 : sureness }));
    // An event that was never recorded can be named all the same.
    if (heard && /event/.test(` ${heard.key} ${rest.text}`) && /^[\w.:-]+$/.test(name) && !met.some(({ sureness }) => sureness === 1))
      return [{ leaf: leaf(name), sureness: 1.5 }, ...found];
    return found;
  },
  negate: neverTimes,
  example: (fc) =>
    shape(fc, {
      kind: fc.constant('did' as const),
      event: fc.constantFrom('booking', 'quote_opened'),
      where: whereExample(fc),
      times: timesExample(fc),
      within: withinExample(fc),
    }),
};

const SAYS = ['did', 'done', 'event', 'events', 'triggered', 'fired', 'completed', 'made', 'reported', 'happened'];
