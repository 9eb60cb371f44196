// The week's results as a mail. Pure: what it says is what the screens say.
import { localTime } from '../time/localTime';
import { DAY_MS } from '../time/day';
import { dayIn } from './report';

export interface WeeklyCampaign {
  readonly id: string;
  readonly name: string;
  readonly met: number;
  /** "4.1 % do “booking”". */
  readonly rate: string;
  /** The difference with its span, or why there is none. */
  readonly difference: string;
  readonly isClear: boolean;
}

export interface Weekly {
  readonly site: string;
  /** Calendar days, the first and the last of the week. */
  readonly from: string;
  readonly to: string;
  readonly visits: readonly [now: number, before: number];
  /** Visits in which a message was shown. */
  readonly withMessage: number;
  /** Of the main goal; undefined where there is none. */
  readonly goal?: { readonly name: string; readonly times: readonly [now: number, before: number] } | undefined;
  /** The most met first. */
  readonly campaigns: readonly WeeklyCampaign[];
  /** Of the screen of results, of this week. */
  readonly url: string;
}

const HOUR_OF_DAY = 7;

/** The Monday whose mail is due at an instant (UTC ms) in a zone: that of the week under way, from seven in its morning on; before that the one before. */
export function dueMonday(zone: string, now: number): string {
  const { weekday, minutes } = localTime(now, zone);
  const back = (weekday + 6) % 7;
  const isTooEarly = back === 0 && minutes < HOUR_OF_DAY * 60;
  const noon = Date.parse(`${dayIn(zone, now)}T12:00:00Z`) - (back + (isTooEarly ? 7 : 0)) * DAY_MS;
  return new Date(noon).toISOString().slice(0, 10);
}

/** The seven days before a Monday. */
export const weekBefore = (monday: string): { from: string; to: string } => {
  const noon = Date.parse(`${monday}T12:00:00Z`);
  const day = (back: number): string => new Date(noon - back * DAY_MS).toISOString().slice(0, 10);
  return { from: day(7), to: day(1) };
};

/** When a calendar day begins in a zone, UTC ms: found by halves, so that days on which the clocks change are right. */
export function beginningIn(zone: string, day: string): number {
  const noon = Date.parse(`${day}T12:00:00Z`);
  let [before, after] = [noon - 2 * DAY_MS, noon + DAY_MS];
  // Days rise with time: the first ms of the day is sought.
  while (after - before > 1) {
    const middle = Math.floor((before + after) / 2);
    if (dayIn(zone, middle) < day) before = middle;
    else after = middle;
  }
  return after;
}

const n = (count: number): string => count.toLocaleString('en-GB');
const dayWords = (day: string): string =>
  new Date(`${day}T12:00:00Z`).toLocaleDateString('en-GB', { day: 'numeric', month: 'long', timeZone: 'UTC' });
const beside = ([now, before]: readonly [number, number]): string => `${n(now)} (${n(before)} the week before)`;

/** Subject, plain text and HTML of a week's mail. */
export function weeklyMail(week: Weekly): { subject: string; text: string; html: string } {
  const { site, from, to, visits, withMessage, goal, campaigns, url } = week;
  const subject = `${site}, ${dayWords(from)} to ${dayWords(to)}: ${goal ? `${n(goal.times[0])} ${goal.name.toLowerCase()}` : `${n(visits[0])} visits`}`;
  const facts = [
    ...(goal ? [`${goal.name}: ${beside(goal.times)}`] : []),
    `Visits: ${beside(visits)}`,
    `Visits with a message: ${n(withMessage)}`,
  ];
  const lines = campaigns.map(({ name, met, rate, difference }) => `${name}\n  ${n(met)} met it, ${rate}\n  ${difference}`);
  const none = 'Nobody met a campaign in this week.';
  const end = `More, and what of it is sure: ${url}\nYou get this each Monday because you asked for it; under Results you can stop it.`;
  const text = [facts.join('\n'), lines.length ? lines.join('\n\n') : none, end].join('\n\n');
  const rows = campaigns
    .map(
      ({ name, met, rate, difference, isClear }) =>
        `<tr><td style="padding:6px 12px 6px 0;border-top:1px solid #d9ded8"><b>${escaped(name)}</b></td><td style="padding:6px 12px;border-top:1px solid #d9ded8;text-align:right">${n(met)}</td><td style="padding:6px 12px;border-top:1px solid #d9ded8">${escaped(rate)}</td><td style="padding:6px 0 6px 12px;border-top:1px solid #d9ded8;color:${isClear ? '#17211e' : '#5b6661'}">${escaped(difference)}</td></tr>`,
    )
    .join('');
  const html = `<div style="font:15px/1.5 system-ui,sans-serif;color:#17211e;max-width:720px"><p>${facts.map(escaped).join('<br>')}</p>${
    rows
      ? `<table style="border-collapse:collapse;font:inherit"><tr style="color:#5b6661;text-align:left"><th style="font-weight:normal;padding-right:12px">Campaign</th><th style="font-weight:normal;padding:0 12px">met</th><th style="font-weight:normal;padding:0 12px">success</th><th style="font-weight:normal;padding-left:12px">difference</th></tr>${rows}</table>`
      : `<p>${none}</p>`
  }<p><a href="${escaped(url)}" style="color:#0b5d4e">More, and what of it is sure</a></p><p style="color:#5b6661">You get this each Monday because you asked for it; under Results you can stop it.</p></div>`;
  return { subject, text, html };
}

const ENTITIES: Readonly<Record<string, string>> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' };
const escaped = (text: string): string => text.replace(/[&<>"]/g, (one) => ENTITIES[one] ?? one);
