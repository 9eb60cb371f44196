import type { Channel, Utm, Visitor, Weather } from '@/core/history/visitor';
import type { Signal } from '@/core/moments/signal';
import { measureView } from '@/core/pacing/replay';
import { emptyPacing } from '@/core/pacing/pacing';
import { weatherAt } from '@/standins/weather';
import type { Dice } from '@/core/random/dice';
import { createDice } from '@/core/random/dice';
import { findPage } from '../site/pages';
import type { Effect } from '../world/truth';
import type { CampaignPlay, SimulatedShowing } from './campaigns';
import type { JourneyStep } from './journey';
import { finishBooking, planJourney } from './journey';
import type { Person } from './people';
import { createPerson, factsOfPerson, RETURNS } from './people';
import { playStep, WATCHED } from './timeline';
import { DAY_MS } from '@/core/time/day';

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
  readonly watched: readonly string[];
}

export interface SimulatedEvent {
  readonly id: string;
  readonly viewId: string;
  readonly at: number;
  readonly name: string;
  readonly props: Record<string, string | number | boolean>;
}

export interface SimulatedVisit {
  readonly id: string;
  readonly person: Person;
  readonly at: number;
  readonly channel: Channel;
  readonly referrer?: string;
  readonly utm: Utm;
  readonly weather: Weather;
  readonly views: readonly SimulatedView[];
  readonly events: readonly SimulatedEvent[];
  readonly showings: readonly SimulatedShowing[];
}

export interface SimulatedLife {
  readonly person: Person;
  readonly visits: readonly SimulatedVisit[];
}

export interface SimulationOptions {
  readonly seed: string;
  readonly visits: number;
  readonly days: number;
  /** UTC ms. */
  readonly until: number;
  readonly origin: string;
  readonly campaigns?: CampaignPlay;
}

/**
 * Made-up people with all their visits over `days` days up to `until`, one after the other, so that any number of them
 * fits into memory. The same seed and end give the same.
 */
export function* simulate({ seed, visits, days, until, origin, campaigns }: SimulationOptions): Generator<SimulatedLife> {
  const dice = createDice(seed);
  let left = visits;
  while (left > 0) {
    let at = until - dice.next() * days * DAY_MS;
    const person = createPerson(dice, at);
    const life = new Life(person, { origin, until, dice, campaigns });
    do {
      const start = Math.max(intoRhythm(at, dice), life.end + 2 * 3_600_000);
      if (start >= until) break;
      if (life.visit(start)) left--;
      at = start + Math.max(2 * 3_600_000, dice.around(dice.chance(0.12) ? 36 : 3.5, 1) * DAY_MS);
    } while (left > 0 && dice.chance(RETURNS[person.behaviour]));
    if (life.visits.length) yield { person, visits: life.visits };
  }
}

const HOURS: readonly (readonly [number, number])[] = [
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
];

/** Moves an instant to an hour of its day at which people are awake; evenings draw more, and so do Sundays and Mondays. */
function intoRhythm(at: number, dice: Dice): number {
  let midnight = Math.floor(at / DAY_MS) * DAY_MS;
  const weekday = new Date(midnight).getUTCDay();
  // On Fridays and Saturdays they are out; some look things up a day or two later instead.
  if ((weekday === 5 || weekday === 6) && dice.chance(0.3)) midnight += (7 - weekday) * DAY_MS;
  return Math.floor(midnight + dice.weighted(HOURS) * 3_600_000 + dice.next() * 3_600_000);
}

interface World extends Pick<SimulationOptions, 'origin' | 'until'> {
  readonly campaigns: SimulationOptions['campaigns'] | undefined;
  readonly dice: Dice;
}

/** One person's visits, with what they and the site remember of each other. */
class Life {
  readonly visits: SimulatedVisit[] = [];
  readonly #person: Person;
  readonly #world: World;
  readonly #history: { at: number; source: Visitor['visits'][0]['source']; views: unknown[]; events: unknown[] }[] = [];
  readonly #tags: string[] = [];
  readonly #responses: Visitor['responses'][0][] = [];
  readonly #showings: SimulatedShowing[] = [];
  readonly #pacing = emptyPacing(0);
  #isKnown = false;

  /** When the last visit ended; long ago before the first. */
  get end(): number {
    const last = this.visits.at(-1)?.views.at(-1);
    return last ? last.at + last.leaveMs : -Infinity;
  }

  constructor(person: Person, world: World) {
    this.#person = person;
    this.#world = world;
  }

  /** Plays a visit that begins at `at`; undefined if it would not be over by the end of the simulation. */
  visit(at: number): SimulatedVisit | undefined {
    const { dice, origin, until } = this.#world;
    const { behaviour, town } = this.#person;
    const weather = weatherAt({
      lat: Number(town.lat.toFixed(1)),
      lon: Number(town.lon.toFixed(1)),
      day: new Date(at).toISOString().slice(0, 10),
    });
    const { channel, referrer, utm } = arrival(dice);
    const steps = planJourney(behaviour, dice, { isSnowing: weather.is === 'snow' });
    const views: SimulatedView[] = [];
    const events: SimulatedEvent[] = [];
    const showings: SimulatedShowing[] = [];
    this.#pacing.visit = { startedAt: at, showings: 0, campaigns: [] };
    const past = { at, source: { channel, utm, ...(referrer ? { referrer } : {}) }, views: [] as unknown[], events: [] as unknown[] };
    this.#history.push(past);
    let clock = at;
    for (let step = steps.shift(); step; step = steps.shift()) {
      const view = this.#play(step, {
        at: clock,
        url: origin + step.path + (views.length === 0 ? query(utm) : ''),
        isLast: steps.length === 0,
      });
      views.push(view);
      past.views.push({
        at: view.at,
        url: view.url,
        title: view.title,
        labels: view.labels,
        engaged: view.engagedMs / 1000,
        scroll: view.scroll,
      });
      for (const signal of view.signals)
        if (signal.s === 'event') {
          const event = {
            id: dice.uuid(clock + signal.t),
            viewId: view.id,
            at: clock + signal.t,
            name: signal.name,
            props: (signal.props ?? {}) as SimulatedEvent['props'],
          };
          events.push(event);
          past.events.push(event);
        }
      if (this.#person.email) this.#isKnown = true;
      const { campaigns } = this.#world;
      if (campaigns) {
        const visitor = this.#visitor(weather);
        const played = campaigns.playView({ view, visitAt: at, visitor, person: this.#person, record: this.#pacing, dice });
        showings.push(...played.showings);
        this.#remember(played.showings);
        this.#reachGoals(campaigns, view, events);
        for (const effect of played.effects)
          this.#change(effect, steps, { last: step.path, hasBooked: events.some(({ name }) => name === 'booking') });
      }
      clock += view.leaveMs + dice.whole(150, 900);
    }
    if (clock > until) {
      this.#history.pop();
      // What it brought to showings before it has not happened either.
      for (const { outcomes } of this.#showings) while ((outcomes.at(-1)?.at ?? -Infinity) >= at) outcomes.pop();
      return undefined;
    }
    const visit = {
      id: dice.uuid(at),
      person: this.#person,
      at,
      channel,
      utm,
      weather,
      views,
      events,
      showings,
      ...(referrer ? { referrer } : {}),
    };
    this.visits.push(visit);
    return visit;
  }

  #play(step: JourneyStep, { at, url, isLast }: { at: number; url: string; isLast: boolean }): SimulatedView {
    const { dice } = this.#world;
    const { signals, leaveMs } = playStep(step, { dice, device: this.#person.device, isLast });
    const page = findPage(step.path);
    const measured = measureView({ at, signals, leave: leaveMs, before: {} });
    return {
      id: dice.uuid(at),
      at,
      url,
      title: `${page?.title ?? step.path} · Tarnhollow Huts`,
      labels: page ? (page.kind === 'article' ? ['article', 'winter', page.kind] : [page.kind]) : [],
      signals,
      leaveMs,
      engagedMs: Math.round(measured.engagedMs),
      scroll: measured.depth,
      watched: WATCHED,
    };
  }

  #visitor(weather: Weather): Visitor {
    const { town, member } = this.#person;
    return {
      visits: this.#history as unknown as Visitor['visits'],
      known: this.#isKnown,
      traits: member ? { ...member } : {},
      tags: this.#tags,
      responses: this.#responses,
      ...factsOfPerson(this.#person),
      location: { country: town.country, region: town.region, city: town.city, lat: town.lat, lon: town.lon },
      weather,
    };
  }

  #remember(showings: readonly SimulatedShowing[]): void {
    this.#showings.push(...showings);
    for (const { campaign, at, shown, outcomes, tag } of showings) {
      if (tag && shown) this.#tags.push(tag);
      if (shown) this.#responses.push({ campaign, outcome: 'shown', at });
      for (const { kind, at: answeredAt } of outcomes) this.#responses.push({ campaign, outcome: kind, at: answeredAt });
    }
  }

  /** The page opened, and then its events, may be what a campaign shown before was for. */
  #reachGoals(campaigns: CampaignPlay, view: SimulatedView, events: readonly SimulatedEvent[]): void {
    const happened = [
      { kind: 'open' as const, ...view },
      ...events.flatMap((event) => (event.viewId === view.id ? [{ kind: 'event' as const, ...event }] : [])),
    ];
    for (const what of happened) this.#responses.push(...campaigns.reachGoals(what, this.#showings, this.#pacing));
  }

  /** What being shown a message changes in the steps that are left. */
  #change(effect: Effect, steps: JourneyStep[], { last, hasBooked }: { last: string; hasBooked: boolean }): void {
    const { dice } = this.#world;
    if (effect.kind === 'booksMore') {
      const goesOn = hasBooked || steps.some(({ path }) => path === '/book/done');
      if (!goesOn && dice.chance(effect.share)) steps.splice(0, steps.length, ...finishBooking(last, dice));
    } else if (effect.kind === 'leavesOnPhones') {
      if (this.#person.device.category === 'phone' && dice.chance(effect.share)) steps.length = 0;
    }
  }
}

function arrival(dice: Dice): { channel: Channel; referrer?: string; utm: Utm } {
  return dice.weighted([
    [{ channel: 'search' as const, referrer: 'www.ecosia.org', utm: {} }, 38],
    [{ channel: 'direct' as const, utm: {} }, 22],
    [{ channel: 'email' as const, utm: { source: 'newsletter', medium: 'email', campaign: 'first-snow' } }, 9],
    [{ channel: 'email' as const, utm: { source: 'newsletter', medium: 'email', campaign: 'autumn-letter' } }, 5],
    [{ channel: 'paid' as const, utm: { source: 'ads', medium: 'cpc', campaign: 'long-weekend' } }, 10],
    [{ channel: 'social' as const, utm: { source: 'peaks', medium: 'social' } }, 8],
    [{ channel: 'referral' as const, referrer: 'trailnotes.example', utm: {} }, 8],
  ]);
}

function query(utm: Utm): string {
  const pairs = Object.entries(utm).map(([key, value]) => `utm_${key}=${encodeURIComponent(String(value))}`);
  return pairs.length ? `?${pairs.join('&')}` : '';
}
