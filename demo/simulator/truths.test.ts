// By itself, because so many visits take a while.
import { reachesGoal } from '@/core/campaigns/goals';
import type { Dimension, Exposure } from '@/core/results/report';
import { NOTHING, rowsBy, SHOWN } from '@/core/results/report';
import { DAY_MS } from '@/core/time/day';
import { CAMPAIGNS } from '../world/campaigns';
import { PAGE_SETS, PLACES } from '../world/segments';
import { TRUTHS } from '../world/truth';
import { createCampaignPlay } from './campaigns';
import { simulate } from './simulate';

const UNTIL = Date.parse('2026-11-25T12:00:00Z');
const known = { sets: Object.fromEntries(PAGE_SETS.map(({ id, patterns }) => [id, [...patterns]])), segments: {}, places: {} };
const asked = ['camp_basket', 'camp_newsletter', 'camp_snow', 'camp_offer'];
const places = Object.fromEntries(PLACES.map((place) => [place.id, place]));
const chosen = CAMPAIGNS.flatMap(({ id, document }) => {
  const truth = TRUTHS.find(({ campaign }) => campaign === id);
  return truth && asked.includes(id) ? [{ id, truth, ...document }] : [];
});
const play = createCampaignPlay(chosen, { ...known, places }, UNTIL);
const met = new Map<string, Map<string, Exposure>>(asked.map((id) => [id, new Map()]));
let number = 0;
for (const { person, visits } of simulate({
  seed: 'tarnhollow',
  visits: 30_000,
  days: 60,
  until: UNTIL,
  origin: 'http://tarnhollow.example',
  campaigns: play,
})) {
  number++;
  const happened = visits.flatMap(({ views, events }) => [
    ...views.map((view) => ({ kind: 'open' as const, ...view })),
    ...events.map((event) => ({ kind: 'event' as const, ...event })),
  ]);
  for (const { id, goal } of chosen) {
    const first = visits.flatMap(({ showings }) => showings).find(({ campaign }) => campaign === id);
    if (!first || !('days' in goal)) continue;
    const within = happened.filter(({ at }) => at >= first.at && at <= first.at + goal.days * DAY_MS);
    const success = within.find((what) => reachesGoal(goal, what, what.at, known.sets))?.at ?? null;
    met.get(id)?.set(person.browserId, {
      visitor: number,
      met: first.at,
      dealt: first.shown ? (first.variant ?? SHOWN) : NOTHING,
      shown: first.shown,
      success,
      value: null,
      device: person.device.category,
      channel: null,
      page: null,
      country: null,
      known: false,
      returning: false,
      engaged: false,
      sent: false,
      dismissed: null,
      release: 1,
    });
  }
}
const rows = (id: string, by: Dimension) => {
  const { variants = [] } = chosen.find((one) => one.id === id) ?? {};
  const names = variants.map(({ name }) => name);
  return rowsBy([...(met.get(id)?.values() ?? [])], by, { days: 7, isOwnGoal: false, variants: names, now: UNTIL });
};
/** 1: clearly better, -1: clearly worse, 0: neither. */
const said = (id: string, by: Dimension) =>
  Object.fromEntries(
    rows(id, by).flatMap(({ value, against }) => {
      const [low, high] = against?.span ?? [0, 0];
      return against ? [[value, low > 0 ? 1 : high < 0 ? -1 : 0]] : [];
    }),
  );

test('results of the simulated visits say which campaign lifts, which does nothing, which harms and on what, and which variant is better, and no more', () => {
  expect(said('camp_basket', 'variant')).toEqual({ shown: 1 });
  expect(said('camp_snow', 'variant')).toEqual({ shown: 0 });
  expect(said('camp_snow', 'device')).toEqual({ phone: 0, desktop: 0, tablet: 0 });
  expect(said('camp_newsletter', 'device')).toEqual({ phone: -1, desktop: 0, tablet: 0 });
  expect(said('camp_offer', 'variant')).toEqual({ countdown: -1 });
});
