import type { Pacing } from './pacing';

const EITHER = new Intl.ListFormat('en-GB', { type: 'disjunction' });

/** All that holds, what nobody set included. */
export function pacingWords({ again = 'visit', stop, alone }: Pacing): string[] {
  const often =
    typeof again === 'object'
      ? `not again for ${again.days} ${again.days === 1 ? 'day' : 'days'}`
      : { each: 'each time they ask', always: 'on every page view', visit: 'once a visit', never: 'once ever' }[again];
  const stops = [
    ...(stop?.converted === false ? [] : ['a conversion']),
    ...(stop?.dismissed ? [`${stop.dismissed} ${stop.dismissed === 1 ? 'dismissal' : 'dismissals'}`] : []),
    ...(stop?.shown ? [`${stop.shown} ${stop.shown === 1 ? 'showing' : 'showings'}`] : []),
  ];
  return [
    often,
    ...(stops.length ? [`until ${EITHER.format(stops)}`] : []),
    ...(stop?.converted === false ? ['even after a conversion'] : []),
    ...(alone ? ['only if nothing else has shown in the visit'] : []),
  ];
}
