import type { RecordedVisitor } from '@/core/rehearsal/recorded';
import { simulate } from '@/demo/simulator/simulate';

/** Simulated visits as the rehearsal takes them, without a database. */
export function recordedVisits(visits: number): RecordedVisitor[] {
  const byBrowser = new Map<string, ReturnType<typeof simulate>>();
  for (const visit of simulate({
    seed: 'bench',
    visits,
    days: 60,
    until: Date.parse('2026-11-25T00:00:00Z'),
    origin: 'http://tarnhollow.example',
  })) {
    const { browserId } = visit.person;
    const known = byBrowser.get(browserId);
    if (known) known.push(visit);
    else byBrowser.set(browserId, [visit]);
  }
  return [...byBrowser.values()].map((made, index) => ({
    id: index + 1,
    record: {
      visits: made.map(({ at, channel, utm, referrer, views, events, person }) => ({
        at,
        source: { channel, utm, ...(referrer ? { referrer } : {}) },
        location: { country: person.town.country, city: person.town.city },
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
      changes: made[0]?.person.email ? [{ at: made[0].at, kind: 'identity' as const, key: 'email', value: made[0].person.email }] : [],
      responses: [],
      device: made[0]?.person.device,
    },
    visitIds: made.map(({ id }) => id),
    viewIds: made.map(({ views }) => views.map(({ id }) => id)),
    timelines: made.map(({ views }) => views.map(({ signals, leaveMs }) => ({ signals, leave: leaveMs }))),
  }));
}
