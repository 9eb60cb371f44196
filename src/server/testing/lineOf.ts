import type { Visitor } from '@/core/history/visitor';
import type { VisitorLine } from '../exchange/visitorLine';
import { newUuid } from './items';

/** A visitor of the property tests in the format of an import. Weather, cookies and staffing are not on record. */
export function lineOf(visitor: Visitor, number: number): VisitorLine {
  const { visits, device, location, weather, known, traits, tags, score, responses, language, zone, adBlocker, team } = visitor;
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
      ...(device ? { device } : {}),
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
    ...(score === undefined ? {} : { score }),
    ...(language ? { language } : {}),
    ...(zone ? { zone } : {}),
    ...(adBlocker === undefined ? {} : { adBlocker }),
    ...(team === undefined ? {} : { team }),
  };
}
