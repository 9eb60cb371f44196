import { factsFrom } from '@/core/facts/facts';
import type { Visitor } from '@/core/history/visitor';
import { changesOf } from '@/core/rehearsal/testing/recorded';
import type { VisitorLine } from '../exchange/visitorLine';
import { newUuid } from './items';

/** A visitor of the property tests in the format of an import. Cookies are not on record. */
export function lineOf(visitor: Visitor, number: number): VisitorLine {
  const { visits, location, weather, known, traits, tags, score, responses } = visitor;
  return {
    visitor: number,
    browser: newUuid(visits[0]?.at),
    visits: visits.map(({ at, source, views, events }) => ({
      visit: newUuid(at),
      at,
      source: {
        channel: source?.channel ?? 'direct',
        ...(source?.referrer ? { referrer: source.referrer } : {}),
        utm: { ...source?.utm } as Record<string, string>,
      },
      ...factsFrom(visitor, 'agent'),
      ...(location ? { location } : {}),
      ...(weather ? { weather } : {}),
      views: views.map(({ labels, ...view }) => ({
        view: newUuid(view.at),
        ...view,
        ...(labels ? { labels: [...labels] } : {}),
        leave: 1000,
        signals: [],
      })),
      events: events.map(({ at: happened, name, props }) => ({ at: happened, name, props: { ...props } })),
    })),
    known,
    traits: { ...traits },
    tags: [...tags],
    responses: responses.map((response) => ({ ...response })),
    // Without a history the import makes one of what stands at the end; whether somebody was there it cannot know.
    ...(visitor.staffed === undefined ? {} : { changes: changesOf(visitor) }),
    ...(score === undefined ? {} : { score }),
    ...factsFrom(visitor, 'open', 'piece', 'studio'),
  };
}
