import { z } from 'zod';
import { propsHold, whereSchema, whereWords } from '../../people/kinds/did';
import { quoted } from '../../logic/valueTest';
import type { Timeline } from '../timeline';
import type { MomentKind, MomentRuntime } from '../kind';
import { called, spoken } from '../../typing/spoken';
import { whereTyped } from '../../typing/whereTyped';
import { shape, whereExample } from '../../testing/examples';

export const eventSchema = () =>
  z.strictObject({ kind: z.literal('event'), name: z.string().min(1).max(200), where: whereSchema().optional() });
export type EventMoment = z.infer<ReturnType<typeof eventSchema>>;

/** `now` is the UTC ms of the instant, for tests on dates. */
export function eventHolds({ name, where }: EventMoment, line: Timeline, now: number): boolean {
  return line.events.some((event) => event.name === name && propsHold(where, event.props, now));
}

export const eventWords = ({ name, where }: EventMoment): string => `do ${quoted(name)}${whereWords(where)}`;

export const eventRuntime: MomentRuntime<EventMoment> = {
  holds: (moment, line, t, openedAt) => eventHolds(moment, line, openedAt + t),
  names: ({ name, where }, signal, now) => signal.s === 'event' && signal.name === name && propsHold(where, signal.props, now),
};

export const eventKind: MomentKind<EventMoment> = {
  kind: 'event',
  schema: eventSchema,
  runtime: eventRuntime,
  words: eventWords,
  found: ({ name: asked }, line) => `${line.events.filter(({ name }) => name === asked).length} of that name`,
  isInstant: false,
  watches: undefined,
  implies: (first, second) =>
    first.name === second.name && (!second.where?.length || JSON.stringify(first.where) === JSON.stringify(second.where)),
  isAlways: () => false,
  editor: {
    label: 'Does an event',
    make: (recorded) => ({ kind: 'event', name: recorded?.events[0]?.value ?? 'purchase' }),
    rows: [
      [
        { field: 'words', text: 'does' },
        { field: 'text', key: 'name', label: 'Event', list: 'events' },
      ],
      [{ field: 'where' }],
    ],
  },
  typed: (whole, { events }) => {
    const { where, rest } = whereTyped(whole);
    if (rest.amounts.length || rest.window !== undefined) return [];
    const heard = spoken(rest, { says: SAYS, also: ['the event', 'event', 'an event', 'page', 'reports'], quoted: true, name: true });
    const leaf = (name: string): EventMoment => ({ kind: 'event', name, ...(where.length ? { where } : {}) });
    const [quotedName] = rest.quoted;
    if (heard && quotedName && heard.name === '') return [{ leaf: leaf(quotedName), sureness: 2.95 }];
    const met = called(heard?.name ?? rest.text, events, ({ value }) => value);
    const found = met.map(({ one, sureness }) => ({ leaf: leaf(one.value), sureness: heard && sureness === 1 ? 2.9 : sureness - 0.05 }));
    const isNew =
      heard &&
      /event|happens|when|fires/.test(` ${rest.text}`) &&
      /^[\w.:-]+$/.test(heard.name) &&
      !met.some(({ sureness }) => sureness === 1);
    return isNew ? [{ leaf: leaf(heard.name), sureness: 1.4 }, ...found] : found;
  },
  example: (fc) =>
    shape(fc, { kind: fc.constant('event' as const), name: fc.constantFrom('booking', 'quote_opened'), where: whereExample(fc) }),
};

const SAYS = ['do', 'does', 'event', 'fires', 'happens', 'on event', 'reports', 'triggers', 'when event'];
