import { z } from 'zod';
import type { Truth } from '../rules/truth';
import { evaluateExpr } from '../rules/expr';
import type { Expr } from '../rules/expr';
import type { WordsFor } from '../rules/words';
import { unreachable } from '../unreachable';
import { awayHolds, awaySchema, awayWords } from './kinds/away';
import {
  adBlockerHolds,
  adBlockerSchema,
  adBlockerWords,
  cookieHolds,
  cookieSchema,
  cookieWords,
  languageHolds,
  languageSchema,
  languageWords,
} from './kinds/browser';
import { calendarHolds, calendarSchema, calendarWords } from './kinds/calendar';
import { deviceHolds, deviceSchema, deviceWords } from './kinds/device';
import { didHolds, didSchema, didWords } from './kinds/did';
import { engagedHolds, engagedSchema, engagedWords } from './kinds/engaged';
import { firstSeenHolds, firstSeenSchema, firstSeenWords } from './kinds/firstSeen';
import { locationHolds, locationSchema, locationWords } from './kinds/location';
import { readHolds, readSchema, readWords } from './kinds/read';
import {
  knownHolds,
  knownSchema,
  knownWords,
  scoreHolds,
  scoreSchema,
  scoreWords,
  taggedHolds,
  taggedSchema,
  taggedWords,
  teamHolds,
  teamSchema,
  teamWords,
  traitHolds,
  traitSchema,
  traitWords,
} from './kinds/record';
import { responseHolds, responseSchema, responseWords } from './kinds/response';
import { segmentSchema, segmentWords } from './kinds/segment';
import { sourceHolds, sourceSchema, sourceWords } from './kinds/source';
import { staffedHolds, staffedSchema, staffedWords } from './kinds/staffed';
import { viewedHolds, viewedSchema, viewedWords } from './kinds/viewed';
import { visitsHolds, visitsSchema, visitsWords } from './kinds/visits';
import { weatherHolds, weatherSchema, weatherWords } from './kinds/weather';
import type { Subject } from './subject';

export const peopleConditionSchema = () =>
  z.discriminatedUnion('kind', [
    viewedSchema(),
    didSchema(),
    engagedSchema(),
    readSchema(),
    visitsSchema(),
    awaySchema(),
    firstSeenSchema(),
    knownSchema(),
    traitSchema(),
    taggedSchema(),
    scoreSchema(),
    responseSchema(),
    sourceSchema(),
    locationSchema(),
    weatherSchema(),
    deviceSchema(),
    languageSchema(),
    cookieSchema(),
    adBlockerSchema(),
    calendarSchema(),
    staffedSchema(),
    segmentSchema(),
    teamSchema(),
  ]);
export type PeopleCondition = z.infer<ReturnType<typeof peopleConditionSchema>>;

export function peopleHold(people: Expr<PeopleCondition> | undefined, subject: Subject): Truth {
  return people === undefined ? true : evaluateExpr(people, (condition) => conditionHolds(condition, subject));
}

export function conditionHolds(condition: PeopleCondition, subject: Subject): Truth {
  switch (condition.kind) {
    case 'viewed':
      return viewedHolds(condition, subject);
    case 'did':
      return didHolds(condition, subject);
    case 'engaged':
      return engagedHolds(condition, subject);
    case 'read':
      return readHolds(condition, subject);
    case 'visits':
      return visitsHolds(condition, subject);
    case 'away':
      return awayHolds(condition, subject);
    case 'firstSeen':
      return firstSeenHolds(condition, subject);
    case 'known':
      return knownHolds(condition, subject);
    case 'trait':
      return traitHolds(condition, subject);
    case 'tagged':
      return taggedHolds(condition, subject);
    case 'score':
      return scoreHolds(condition, subject);
    case 'response':
      return responseHolds(condition, subject);
    case 'source':
      return sourceHolds(condition, subject);
    case 'location':
      return locationHolds(condition, subject);
    case 'weather':
      return weatherHolds(condition, subject);
    case 'device':
      return deviceHolds(condition, subject);
    case 'language':
      return languageHolds(condition, subject);
    case 'cookie':
      return cookieHolds(condition, subject);
    case 'adBlocker':
      return adBlockerHolds(condition, subject);
    case 'calendar':
      return calendarHolds(condition, subject);
    case 'staffed':
      return staffedHolds(condition, subject);
    case 'segment':
      return inSegment(condition.id, subject);
    case 'team':
      return teamHolds(condition, subject);
    default:
      return unreachable(condition);
  }
}

/** Unknown where the segment no longer exists or refers to itself. */
export function inSegment(id: string, subject: Subject): Truth {
  const segment = Object.hasOwn(subject.segments, id) ? subject.segments[id] : undefined;
  const within = subject.within ?? [];
  if (!segment || within.includes(id)) return null;
  return peopleHold(segment.people, { ...subject, lookback: segment.lookback, within: [...within, id] });
}

export function conditionWords(condition: PeopleCondition, names: WordsFor): string {
  switch (condition.kind) {
    case 'viewed':
      return viewedWords(condition, names);
    case 'did':
      return didWords(condition);
    case 'engaged':
      return engagedWords(condition, names);
    case 'read':
      return readWords(condition, names);
    case 'visits':
      return visitsWords(condition);
    case 'away':
      return awayWords(condition);
    case 'firstSeen':
      return firstSeenWords(condition);
    case 'known':
      return knownWords(condition);
    case 'trait':
      return traitWords(condition);
    case 'tagged':
      return taggedWords(condition);
    case 'score':
      return scoreWords(condition);
    case 'response':
      return responseWords(condition, names);
    case 'source':
      return sourceWords(condition);
    case 'location':
      return locationWords(condition, names);
    case 'weather':
      return weatherWords(condition);
    case 'device':
      return deviceWords(condition);
    case 'language':
      return languageWords(condition);
    case 'cookie':
      return cookieWords(condition);
    case 'adBlocker':
      return adBlockerWords(condition);
    case 'calendar':
      return calendarWords(condition);
    case 'staffed':
      return staffedWords(condition);
    case 'segment':
      return segmentWords(condition, names);
    case 'team':
      return teamWords(condition);
    default:
      return unreachable(condition);
  }
}
