import type { Channel, Utm } from '@/core/history/visitor';
import type { Signal } from '@/core/moments/signal';
import { measureView } from '@/core/pacing/replay';
import type { Dice } from '../dice';
import { createDice } from '../dice';
import { findPage } from '../site/pages';
import { planJourney } from './journey';
import type { Person } from './people';
import { createPerson, RETURNS } from './people';
import { playStep } from './timeline';

const DAY_MS = 86_400_000;

export interface SimulatedView {
  readonly id: string;
  readonly at: number;
  readonly url: string;
  readonly title: string;
  readonly labels: readonly string[];
  readonly signals: readonly Signal[];
  readonly leaveMs: number;
  readonly engagedMs: number;
  readonly scroll: number;
}

export interface SimulatedVisit {
  readonly id: string;
  readonly person: Person;
  readonly at: number;
  readonly channel: Channel;
  readonly referrer?: string;
  readonly utm: Utm;
  readonly views: readonly SimulatedView[];
  readonly events: readonly {
    readonly id: string;
    readonly viewId: string;
    readonly at: number;
    readonly name: string;
    readonly props: Record<string, string | number>;
  }[];
}

/** Made-up visits over `days` days up to `until` (UTC ms), oldest first. The same seed and end give the same visits. */
export function simulate({
  seed,
  visits,
  days,
  until,
  origin,
}: {
  seed: string;
  visits: number;
  days: number;
  until: number;
  origin: string;
}): SimulatedVisit[] {
  const dice = createDice(seed);
  const made: SimulatedVisit[] = [];
  while (made.length < visits) {
    let at = until - dice.next() * days * DAY_MS;
    const person = createPerson(dice, at);
    do {
      const start = intoRhythm(at, dice);
      if (start >= until) break;
      const visit = playVisit({ person, at: start, origin, dice, until });
      if (visit) made.push(visit);
      at = start + Math.max(2 * 3_600_000, dice.around(3.5, 1) * DAY_MS);
    } while (made.length < visits && dice.chance(RETURNS[person.behaviour]));
  }
  return made.sort((a, b) => a.at - b.at);
}

/** Moves an instant to an hour of its day at which people are awake; weekends and evenings draw more. */
function intoRhythm(at: number, dice: Dice): number {
  const midnight = Math.floor(at / DAY_MS) * DAY_MS;
  const hour = dice.weighted([
    [6, 1],
    [7, 3],
    [8, 5],
    [9, 6],
    [10, 6],
    [11, 6],
    [12, 7],
    [13, 6],
    [14, 5],
    [15, 5],
    [16, 6],
    [17, 7],
    [18, 8],
    [19, 10],
    [20, 11],
    [21, 9],
    [22, 4],
  ] as const);
  return Math.floor(midnight + hour * 3_600_000 + dice.next() * 3_600_000);
}

function playVisit({
  person,
  at,
  origin,
  dice,
  until,
}: {
  person: Person;
  at: number;
  origin: string;
  dice: Dice;
  until: number;
}): SimulatedVisit | undefined {
  const { channel, referrer, utm } = arrival(dice);
  const steps = planJourney(person.behaviour, dice);
  const views: SimulatedView[] = [];
  const events: SimulatedVisit['events'][0][] = [];
  let clock = at;
  for (const [index, step] of steps.entries()) {
    const { signals, leaveMs } = playStep(step, { dice, device: person.device, isLast: index === steps.length - 1 });
    const page = findPage(step.path);
    const measured = measureView({ at: clock, signals, leave: leaveMs, before: {} });
    const view: SimulatedView = {
      id: dice.uuid(clock),
      at: clock,
      url: origin + step.path + (index === 0 ? query(utm) : ''),
      title: `${page?.title ?? step.path} · Tarnhollow Huts`,
      labels: page ? [page.kind] : [],
      signals,
      leaveMs,
      engagedMs: Math.round(measured.engagedMs),
      scroll: measured.depth,
    };
    views.push(view);
    for (const signal of signals)
      if (signal.s === 'event')
        events.push({
          id: dice.uuid(clock + signal.t),
          viewId: view.id,
          at: clock + signal.t,
          name: signal.name,
          props: { night: 'soon' },
        });
    if (step.path === '/book/done') {
      const props = {
        value: dice.whole(1, 6) * 34,
        hut: dice.pick(['Skarn Shelter', 'Upper Moss', 'Lantern Col', 'Three Cairns']),
        nights: dice.whole(1, 3),
      };
      events.push({ id: dice.uuid(clock + 300), viewId: view.id, at: clock + 300, name: 'booking', props });
    }
    clock += leaveMs + dice.whole(150, 900);
  }
  if (clock > until) return undefined;
  return { id: dice.uuid(at), person, at, channel, utm, views, events, ...(referrer ? { referrer } : {}) };
}

function arrival(dice: Dice): { channel: Channel; referrer?: string; utm: Utm } {
  return dice.weighted([
    [{ channel: 'search' as const, referrer: 'www.ecosia.org', utm: {} }, 38],
    [{ channel: 'direct' as const, utm: {} }, 22],
    [{ channel: 'email' as const, utm: { source: 'newsletter', medium: 'email', campaign: 'first-snow' } }, 14],
    [{ channel: 'paid' as const, utm: { source: 'ads', medium: 'cpc', campaign: 'long-weekend' } }, 10],
    [{ channel: 'social' as const, utm: { source: 'peaks', medium: 'social' } }, 8],
    [{ channel: 'referral' as const, referrer: 'trailnotes.example', utm: {} }, 8],
  ]);
}

function query(utm: Utm): string {
  const pairs = Object.entries(utm).map(([key, value]) => `utm_${key}=${encodeURIComponent(String(value))}`);
  return pairs.length ? `?${pairs.join('&')}` : '';
}
