// The open format of recorded visits: one visitor a line.
import { z } from 'zod';
import { factShape, factsFrom } from '@/core/facts/facts';
import type { RecordedVisitor } from '@/core/rehearsal/recorded';
import { profileAt } from '@/core/history/record';
import { CHANNELS, OUTCOMES, WEATHERS } from '@/core/history/visitor';
import { pieceItemSchema } from '@/core/wire/items';

const instant = z.number().min(0).max(4_102_444_800_000);
const uuid = z.string().regex(/^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/i);
const text = (most: number) => z.string().max(most);

const view = z.strictObject({
  view: uuid,
  at: instant,
  url: text(4000),
  title: text(20_000).optional(),
  labels: z.array(text(200)).max(50).optional(),
  leave: z.number().min(0),
  signals: pieceItemSchema.shape.signals,
  engaged: z.number().min(0),
  scroll: z.number().min(0).max(100),
  before: z.strictObject({ hidden: z.boolean().optional(), cannotScroll: z.boolean().optional() }).optional(),
  watched: z.array(text(500)).max(500).optional(),
});
const location = z.strictObject({
  country: text(2).optional(),
  region: text(200).optional(),
  city: text(200).optional(),
  lat: z.number().min(-90).max(90).optional(),
  lon: z.number().min(-180).max(180).optional(),
  accuracy: z.number().min(0).optional(),
});

export const visitorLineSchema = z.strictObject({
  visitor: z.union([z.number(), text(100)]),
  browser: uuid.optional(),
  visits: z
    .array(
      z.strictObject({
        visit: uuid,
        at: instant,
        source: z
          .strictObject({ channel: z.enum(CHANNELS), referrer: text(500).optional(), utm: z.record(z.string(), text(500)) })
          .optional(),
        ...factShape('agent'),
        location: location.optional(),
        weather: z.strictObject({ is: z.enum(WEATHERS).optional(), celsius: z.number().optional() }).optional(),
        views: z.array(view).min(1),
        events: z.array(z.strictObject({ at: instant, name: text(200).min(1), props: z.record(z.string(), z.unknown()) })),
      }),
    )
    .min(1),
  known: z.boolean().optional(),
  traits: z.record(z.string(), z.unknown()).optional(),
  tags: z.array(text(200)).optional(),
  score: z.number().optional(),
  responses: z.array(z.strictObject({ campaign: text(100), outcome: z.enum(OUTCOMES), at: instant })).optional(),
  changes: z
    .array(
      z.strictObject({ at: instant, kind: z.enum(['trait', 'tag', 'score', 'identity', 'staffed']), key: text(200), value: z.unknown() }),
    )
    .optional(),
  // A device stands with the visits that were made on it.
  ...factShape('open', 'piece', 'studio'),
});
export type VisitorLine = z.infer<typeof visitorLineSchema>;

/** A visitor as a line. Traits, tags, score and whether they are known are as they stand at the end; `changes` has their history. */
export function visitorLine({ id, record, visitIds, viewIds, timelines }: RecordedVisitor, browser: string): VisitorLine {
  const { visits, changes, responses } = record;
  const { known, traits, tags, score } = profileAt(changes, Infinity);
  return {
    visitor: id,
    browser,
    visits: visits.flatMap((visit, nth) => {
      const played = timelines[nth];
      if (!played) return [];
      return {
        visit: visitIds[nth] ?? '',
        at: visit.at,
        ...(visit.source ? { source: { ...visit.source, utm: { ...visit.source.utm } as Record<string, string> } } : {}),
        ...factsFrom(record, 'agent'),
        ...(visit.location ? { location: { ...visit.location } } : {}),
        ...(visit.weather ? { weather: { ...visit.weather } } : {}),
        views: visit.views.map((seen, index) => {
          const { signals = [], leave = 0, hidden, cannotScroll, watched } = played[index] ?? {};
          const { labels, ...page } = seen;
          return {
            view: viewIds[nth]?.[index] ?? '',
            ...page,
            ...(labels ? { labels: [...labels] } : {}),
            leave,
            signals: signals as VisitorLine['visits'][0]['views'][0]['signals'],
            ...(hidden || cannotScroll ? { before: { ...(hidden ? { hidden } : {}), ...(cannotScroll ? { cannotScroll } : {}) } } : {}),
            ...(watched ? { watched: [...watched] } : {}),
          };
        }),
        events: visit.events.map(({ at, name, props }) => ({ at, name, props: { ...props } })),
      };
    }),
    known,
    traits: { ...traits },
    tags: [...tags],
    ...(score ? { score } : {}),
    responses: [...responses],
    changes: [...changes],
    ...factsFrom(record, 'open', 'piece', 'studio'),
  };
}
