import type { RecordedVisitor } from '@/core/rehearsal/recorded';
import type { SimulatedLife } from '@/demo/simulator/simulate';
import { simulate } from '@/demo/simulator/simulate';

/** Simulated visits as the rehearsal takes them, without a database. */
export function recordedVisits(visits: number): RecordedVisitor[] {
  const lives = simulate({
    seed: 'bench',
    visits,
    days: 60,
    until: Date.parse('2026-11-25T00:00:00Z'),
    origin: 'http://tarnhollow.example',
  });
  return [...lives].map((life, index) => recordedOf(life, index + 1));
}

function recordedOf({ person, visits }: SimulatedLife, id: number): RecordedVisitor {
  const { country, region, city, lat, lon } = person.town;
  const { category, os, browser } = person.device;
  return {
    id,
    record: {
      visits: visits.map(({ at, channel, utm, referrer, views, events, weather }) => ({
        at,
        source: { channel, utm, ...(referrer ? { referrer } : {}) },
        location: { country, region, city, lat, lon },
        weather,
        views: views.map(({ at: opened, url, title, labels, engagedMs, scroll }) => ({
          at: opened,
          url,
          title,
          labels,
          engaged: engagedMs / 1000,
          scroll,
        })),
        events: events.map(({ at: happened, name, props }) => ({ at: happened, name, props })),
      })),
      changes: person.email ? [{ at: visits[0]?.at ?? 0, kind: 'identity', key: 'email', value: person.email }] : [],
      responses: [],
      device: { category, os, browser },
    },
    visitIds: visits.map(({ id: visit }) => visit),
    viewIds: visits.map(({ views }) => views.map(({ id: view }) => view)),
    timelines: visits.map(({ views }) => views.map(({ signals, leaveMs }) => ({ signals, leave: leaveMs }))),
  };
}
