import type { Goal } from '../campaigns/campaign';
import { reachesGoal, valueOf } from '../campaigns/goals';
import type { PageSets } from '../pages/pattern';
import type { Exposure } from '../results/report';
import { NOTHING, SHOWN } from '../results/report';
import { DAY_MS } from '../time/day';
import type { Dictionaries } from './chunk';
import type { People } from './people';
import type { ResultNames, ResultsDay } from './resultsDay';
import type { Persons } from './search';
import { firstEvent, firstView, firstVisitAt, knownSince, personsOf } from './search';

export interface AskedOfDays {
  readonly campaign: string;
  readonly goal: Goal;
  /** First meetings: UTC ms, the first inclusive, the second not. */
  readonly from: number;
  readonly to: number;
  /** What is known by this instant, UTC ms. */
  readonly now: number;
  readonly sets: PageSets;
  /** Was a visitor (the browser that met it first, of several who are one person) in a segment by an instant? Left out where nobody asks. */
  readonly isIn?: ((visitor: number, at: number) => boolean) | undefined;
}

/** Visitors who first met a campaign in a period, and what came of it, in the order of their meetings. `days` in their order. */
export function exposuresIn(
  { days, names, people, known }: { days: readonly ResultsDay[]; names: ResultNames; people: People; known: Dictionaries },
  asked: AskedOfDays,
): Exposure[] {
  const { campaign, goal, from, to, now } = asked;
  const persons = personsOf(people, known);
  const firsts = firstMeetings(days, names, { people, persons }, { campaign, now });
  const came = whatCame(days, names, { ...firsts, people, persons }, { campaign, now });
  const success = successOf(goal, came, { people, known }, asked);
  const [since, began] = [knownSince(people, known), firstVisitAt(people)];
  const out: Exposure[] = [];
  for (let nth = 0; nth < firsts.visitor.length; nth++) {
    const at = firsts.at[nth] as number;
    if (at < from || at >= to) continue;
    const visitor = firsts.visitor[nth] as number;
    const day = firsts.day[nth] as ResultsDay;
    const row = firsts.row[nth] as number;
    const { variant, shown, release } = names.met.list[day.met[row] as number] as (typeof names.met.list)[0];
    const { channel, country, returning } = names.arrivals.list[day.arrival[row] as number] as (typeof names.arrivals.list)[0];
    const person = persons.of[visitor] ?? visitor;
    let reached = success(nth, visitor, at);
    for (const other of persons.several.get(person) ?? []) {
      const theirs = other === visitor ? undefined : success(nth, other, at);
      if (theirs && (!reached || theirs.at < reached.at)) reached = theirs;
    }
    out.push({
      visitor: person,
      met: at,
      dealt: shown ? (variant ?? SHOWN) : NOTHING,
      shown: ((came.flags[nth] as number) & WAS_SHOWN) !== 0,
      success: reached?.at ?? null,
      value: reached?.value ?? null,
      device: people.attributesOf(visitor)?.device?.category ?? null,
      channel: channel ?? null,
      page: names.paths.list[day.path[row] as number] ?? null,
      country: country ?? null,
      known: (since[visitor] ?? Infinity) <= at,
      returning: returning || (began[visitor] ?? Infinity) < (day.visitAt[row] as number),
      engaged: ((came.flags[nth] as number) & ENGAGED) !== 0,
      sent: ((came.flags[nth] as number) & SENT) !== 0,
      dismissed: came.dismissed.get(nth) ?? null,
      release,
      ...(asked.isIn ? { inSegment: asked.isIn(visitor, at) } : {}),
    });
  }
  return out;
}

const [WAS_SHOWN, ENGAGED, SENT] = [1, 2, 4];

interface Firsts {
  readonly visitor: number[];
  readonly at: number[];
  readonly day: ResultsDay[];
  readonly row: number[];
  /** Of each person one more than their place in these lists; 0 for whoever never met it. */
  readonly placeOf: Uint32Array;
  readonly flags: number[];
}

/** The first meeting of everybody, by the visitor who had it; of the team none. */
function firstMeetings(
  days: readonly ResultsDay[],
  names: ResultNames,
  { people, persons }: { people: People; persons: Persons },
  { campaign, now }: Pick<AskedOfDays, 'campaign' | 'now'>,
): Firsts {
  const most = days.reduce((so, { metVisitor }) => metVisitor.reduce((max, visitor) => Math.max(max, visitor), so), people.most);
  const firsts: Firsts = { visitor: [], at: [], day: [], row: [], placeOf: new Uint32Array(most + 1), flags: [] };
  const isOfIt = Uint8Array.from(names.met.list, (one) => (one.campaign === campaign ? (one.shown && !one.unseen ? 2 : 1) : 0));
  for (const day of days) {
    const { metVisitor, met, metAt } = day;
    for (let row = 0; row < met.length; row++) {
      const kind = isOfIt[met[row] as number] as number;
      if (kind === 0 || (metAt[row] as number) >= now) continue;
      const visitor = metVisitor[row] as number;
      const attributes = people.attributesOf(visitor);
      if (!attributes || attributes.team) continue;
      const person = persons.of[visitor] ?? visitor;
      let place = firsts.placeOf[person] as number;
      if (place === 0) {
        place = firsts.visitor.push(visitor);
        firsts.placeOf[person] = place;
        firsts.at.push(metAt[row] as number);
        firsts.day.push(day);
        firsts.row.push(row);
        firsts.flags.push(0);
      }
      if (kind === 2) firsts.flags[place - 1] = WAS_SHOWN;
    }
  }
  return firsts;
}

interface Came {
  /** By place: was shown it, engaged, sent. */
  readonly flags: readonly number[];
  /** By place: how they first dismissed it. */
  readonly dismissed: ReadonlyMap<number, NonNullable<Exposure['dismissed']>>;
  /** By place: instants of their answers, or of their replies. */
  readonly leads: ReadonlyMap<number, number[]>;
  readonly replies: ReadonlyMap<number, number[]>;
}

function whatCame(
  days: readonly ResultsDay[],
  names: ResultNames,
  { placeOf, flags, people, persons }: Firsts & { people: People; persons: Persons },
  { campaign, now }: Pick<AskedOfDays, 'campaign' | 'now'>,
): Came {
  const dismissed = new Map<number, NonNullable<Exposure['dismissed']>>();
  const [leads, replies] = [new Map<number, number[]>(), new Map<number, number[]>()];
  const push = (map: Map<number, number[]>, place: number, at: number): void => {
    const list = map.get(place);
    if (list) list.push(at);
    else map.set(place, [at]);
  };
  const isOfIt = names.came.list.map((one) => one.campaign === campaign);
  for (const { came, cameVisitor, cameAt } of days)
    for (let row = 0; row < came.length; row++) {
      const at = cameAt[row] as number;
      if (!isOfIt[came[row] as number] || at >= now) continue;
      const visitor = cameVisitor[row] as number;
      const place = (placeOf[persons.of[visitor] ?? visitor] ?? 0) - 1;
      if (place < 0) continue;
      const { did, how, standing } = names.came.list[came[row] as number] as (typeof names.came.list)[0];
      // What one of the team did with it as the same person is no answer of theirs.
      const isTeam = people.attributesOf(visitor)?.team === true;
      let flag = 0;
      if (did === 'clicked') flag = ENGAGED;
      else if (did === 'replied') {
        flag = ENGAGED | SENT;
        push(replies, place, at);
      } else if (did === 'lead') {
        if (standing) flag = SENT;
        push(leads, place, at);
      } else if (!isTeam && !dismissed.has(place)) dismissed.set(place, how ?? 'unknown');
      if (!isTeam) flags[place] = (flags[place] as number) | flag;
    }
  return { flags, dismissed, leads, replies };
}

interface Reached {
  readonly at: number;
  readonly value: number | null;
}

/** Of a visitor by place, number and first meeting the first success within the goal's days. */
function successOf(
  goal: Goal,
  came: Came,
  over: { people: People; known: Dictionaries },
  { now, sets }: Pick<AskedOfDays, 'now' | 'sets'>,
): (place: number, visitor: number, met: number) => Reached | undefined {
  const within = 'days' in goal ? goal.days * DAY_MS : Infinity;
  if (goal.kind === 'form' || goal.kind === 'reply') {
    const instants = goal.kind === 'form' ? came.leads : came.replies;
    return (place, _visitor, met) => {
      const at = instants.get(place)?.find((one) => one >= met && one <= met + within);
      return at === undefined ? undefined : { at, value: valueOf(goal) };
    };
  }
  if (goal.kind === 'page') {
    const search = firstView(over, (page) => reachesGoal(goal, { kind: 'open', ...page }, 0, sets));
    return (_place, visitor, met) => {
      const at = search(visitor, met, Math.min(met + within, now - 1));
      return at === undefined ? undefined : { at, value: valueOf(goal) };
    };
  }
  const search = firstEvent(over, goal.event, (event, at) => reachesGoal(goal, { kind: 'event', ...event }, at));
  return (_place, visitor, met) => {
    const first = search(visitor, met, Math.min(met + within, now - 1));
    return first && { at: first.at, value: valueOf(goal, first.props) };
  };
}
