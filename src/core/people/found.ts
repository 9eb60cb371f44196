import { DAY_MS } from '../history/visitor';
import { rangeWords } from '../rules/range';
import type { PeopleCondition } from './condition';
import { ownValue } from './kinds/did';
import { sumMatchingViews } from './matchingViews';
import type { Subject } from './subject';
import { inWindow, visitsIn } from './subject';

/** What was found where a condition asked, in a few words. */
export function conditionFound(condition: PeopleCondition, subject: Subject): string {
  const { visitor, now } = subject;
  switch (condition.kind) {
    case 'viewed':
      return between(
        sumMatchingViews(subject, condition, () => 1),
        'views',
      );
    case 'engaged':
      return between(
        sumMatchingViews(subject, condition, ({ engaged }) => engaged),
        's',
      );
    case 'read':
      return between(
        sumMatchingViews(subject, condition, ({ scroll }) => (scroll >= condition.scroll ? 1 : 0)),
        'views',
      );
    case 'did':
      return `${
        visitsIn(condition.within, subject)
          .flatMap(({ events }) => events)
          .filter(({ name, at }) => name === condition.event && inWindow(at, condition.within, subject)).length
      } of that name`;
    case 'visits':
      return `${visitsIn(condition.within, subject).filter(({ at }) => inWindow(at, condition.within, subject)).length} visits`;
    case 'away': {
      const [before, current] = visitor.visits.slice(-2);
      return before && current ? `${((current.at - before.at) / DAY_MS).toFixed(1)} days` : 'the first visit';
    }
    case 'firstSeen':
      return visitor.visits[0] ? `${((now - visitor.visits[0].at) / DAY_MS).toFixed(1)} days ago` : 'never seen';
    case 'known':
      return visitor.known ? 'known' : 'not known';
    case 'trait':
      return shown(ownValue(visitor.traits, condition.key));
    case 'tagged':
      return visitor.tags.length ? visitor.tags.join(', ') : 'no tags';
    case 'score':
      return String(visitor.score ?? 0);
    case 'response':
      return `${visitor.responses.filter(({ campaign, outcome, at }) => campaign === condition.campaign && outcome === condition.outcome && inWindow(at, condition.within, subject)).length} times`;
    case 'source':
      return visitor.visits.at(-1)?.source?.channel ?? 'not recorded';
    case 'location':
      return (
        [visitor.location?.city, visitor.location?.region, visitor.location?.country].filter(Boolean).join(', ') || 'no location found'
      );
    case 'weather':
      return visitor.weather
        ? [visitor.weather.is, visitor.weather.celsius === undefined ? undefined : `${visitor.weather.celsius} °C`]
            .filter(Boolean)
            .join(', ')
        : 'not recorded';
    case 'device':
      return [visitor.device?.category, visitor.device?.os, visitor.device?.browser].filter(Boolean).join(', ') || 'not recorded';
    case 'language':
      return visitor.language ?? 'not recorded';
    case 'cookie':
      return visitor.cookies ? shown(ownValue(visitor.cookies, condition.name)) : 'the cookie store is closed';
    case 'adBlocker':
      return visitor.adBlocker === undefined ? 'not recorded' : visitor.adBlocker ? 'yes' : 'no';
    case 'calendar':
      return `${new Date(now).toISOString()}, visitor in ${visitor.zone ?? 'UTC'}`;
    case 'staffed':
      return subject.staffed === undefined ? 'not recorded' : subject.staffed ? 'somebody is there' : 'nobody is there';
    case 'segment':
      return subject.segments[condition.id] ? '' : 'the segment no longer exists';
    case 'team':
      return visitor.team ? 'of the team' : 'not of the team';
  }
}

const between = ({ low, high }: { low: number; high: number }, unit: string): string =>
  low === high ? `${low} ${unit}` : rangeWords({ min: low, max: high }, unit);
const shown = (value: unknown): string => (value === undefined ? 'not there' : JSON.stringify(value));
