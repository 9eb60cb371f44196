import { unionOfKinds } from '../parsing/unionOfKinds';
import type { Expr } from '../logic/expr';
import { evaluateExpr } from '../logic/expr';
import type { Truth } from '../logic/truth';
import type { WordsFor } from '../pages/names';
import type { PeopleKind } from './kind';
import { adBlockerKind } from './kinds/adBlocker';
import { awayKind } from './kinds/away';
import { calendarKind } from './kinds/calendar';
import { cookieKind } from './kinds/cookie';
import { deviceKind } from './kinds/device';
import { didKind } from './kinds/did';
import { engagedKind } from './kinds/engaged';
import { firstSeenKind } from './kinds/firstSeen';
import { knownKind } from './kinds/known';
import { languageKind } from './kinds/language';
import { locationKind } from './kinds/location';
import { readKind } from './kinds/read';
import { responseKind } from './kinds/response';
import { scoreKind } from './kinds/score';
import { segmentKind } from './kinds/segment';
import { sourceKind } from './kinds/source';
import { staffedKind } from './kinds/staffed';
import { taggedKind } from './kinds/tagged';
import { teamKind } from './kinds/team';
import { traitKind } from './kinds/trait';
import { viewedKind } from './kinds/viewed';
import { visitsKind } from './kinds/visits';
import { weatherKind } from './kinds/weather';
import type { Subject } from './subject';

/** Every kind of people condition. Evaluation, words, counting, lint, editors and what typing offers all come from here. */
export const PEOPLE_KINDS = {
  viewed: viewedKind,
  did: didKind,
  engaged: engagedKind,
  read: readKind,
  visits: visitsKind,
  away: awayKind,
  firstSeen: firstSeenKind,
  known: knownKind,
  trait: traitKind,
  tagged: taggedKind,
  score: scoreKind,
  response: responseKind,
  source: sourceKind,
  location: locationKind,
  weather: weatherKind,
  device: deviceKind,
  language: languageKind,
  cookie: cookieKind,
  adBlocker: adBlockerKind,
  calendar: calendarKind,
  staffed: staffedKind,
  segment: segmentKind,
  team: teamKind,
} as const;

type Kinds = typeof PEOPLE_KINDS;
type ConditionOf<E> = E extends PeopleKind<infer C> ? C : never;
export type PeopleCondition = { [K in keyof Kinds]: ConditionOf<Kinds[K]> }[keyof Kinds];
export type PeopleKindName = keyof Kinds;
/** What the page judges by itself; everything else is a fact that the collector tells it. */
export type PageCondition = { [K in keyof Kinds]: Kinds[K] extends PeopleKind<infer C, 'page'> ? C : never }[keyof Kinds];

/** Each entry stands under its own name. */
PEOPLE_KINDS satisfies { readonly [K in PeopleKindName]: PeopleKind<Extract<PeopleCondition, { kind: K }>> };

/** The entry of a condition's kind, for that kind's conditions. */
export const kindOf = <C extends PeopleCondition>({ kind }: C): PeopleKind<C> => PEOPLE_KINDS[kind] as unknown as PeopleKind<C>;

export const peopleKinds = (): readonly PeopleKind<PeopleCondition>[] =>
  Object.values(PEOPLE_KINDS) as unknown as readonly PeopleKind<PeopleCondition>[];

export const peopleConditionSchema = () => unionOfKinds<PeopleCondition>(PEOPLE_KINDS);

export function peopleHold(people: Expr<PeopleCondition> | undefined, subject: Subject): Truth {
  return people === undefined ? true : evaluateExpr(people, (condition) => conditionHolds(condition, subject));
}

export const conditionHolds = (condition: PeopleCondition, subject: Subject): Truth =>
  kindOf(condition).holds(condition, subject, peopleHold);

export const conditionWords = (condition: PeopleCondition, names: WordsFor): string => kindOf(condition).words(condition, names);

/** What was found where a condition asked, in a few words. */
export const conditionFound = (condition: PeopleCondition, subject: Subject): string => kindOf(condition).found(condition, subject);

export const isJudgedInPage = (condition: PeopleCondition): condition is PageCondition => kindOf(condition).judgedIn === 'page';
