// What the collector is asked: at once after something happened, and once a second otherwise.
import type { Choice, CHOICES, Judge, Judged, OnRecord, Pointed } from '@/core/tryout/asked';
import type { PacingRecord } from '@/core/pacing/pacing';
import { emptyPacing } from '@/core/pacing/pacing';
import type { BatchAnswer } from '@/core/wire/items';
import { readCookies } from '../facts/cookies';
import { readOpenFacts } from '../facts/openFacts';
import { readZone } from '../facts/zone';
import { toJson } from '../json';
import { isHidden } from '../own';
import { now } from './clock';
import { forgetSession, saveSession, session } from './session';
import { onChange, sinceOpened, watchedView } from './view';

const AFTER_MS = 120;
const EVERY_MS = 1000;
const SMALL_EVERY_MS = 4000;
const PATIENCE_MS = 15_000;

let url = '';
let onAnswer: (answer: BatchAnswer) => void = () => undefined;
let answered: Judged | undefined;
let said = '';
let hash: string | undefined;
let isAsking = false;
let isAgain = false;
let timer: ReturnType<typeof setTimeout> | undefined;
let listener: () => void = () => undefined;
export type End = 'left' | 'over';
let ended: End | undefined;
let failure: string | undefined;

/** What was last heard, and what is wrong where nothing is. */
export const heard = (): {
  readonly judged: Judged | undefined;
  readonly ended: End | undefined;
  readonly failure: string | undefined;
} => ({
  judged: answered,
  ended,
  failure,
});
export const onHeard = (tell: () => void): void => void (listener = tell);
export const answerTo = (tell: (answer: BatchAnswer) => void): void => void (onAnswer = tell);

export class Refused extends Error {
  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message);
  }
}

/** @throws Refused where the collector says no, and what `fetch` throws where it says nothing. */
async function post<T>(body: object): Promise<T> {
  const response = await fetch(url, {
    method: 'POST',
    body: toJson(body),
    credentials: 'omit',
    signal: AbortSignal.timeout(PATIENCE_MS),
  });
  const answer = (await response.json()) as T & { error?: { message: string } };
  if (!response.ok) throw new Refused(response.status, answer.error?.message ?? String(response.status));
  return answer;
}

const whose = (): { key: string; token: string } => ({ key: session().key, token: session().token });

/** Changes the ticket of the address for a token, or makes sure that the token is good. @throws Refused */
export async function begin(base: string, ticket: string | undefined): Promise<void> {
  url = `${base}try`;
  const kept = session();
  if (ticket !== undefined) {
    const { token, campaign, wants } = await post<{ token: string; campaign: string | null; wants: 'page' | 'element' | null }>({
      kind: 'begin',
      key: kept.key,
      ticket,
    });
    Object.assign(kept, { token, wants, ...(campaign ? { chosen: campaign, pretend: { takes: { [campaign]: true } } } : {}) });
    saveSession();
  } else await post({ kind: 'choices', ...whose(), of: 'tags', said: '' });
  onChange(askSoon);
  document.addEventListener('visibilitychange', askSoon);
}

/** What can be picked for what is pretended. */
export const choices = async (of: (typeof CHOICES)[number], text: string): Promise<readonly Choice[]> =>
  (await post<{ choices: Choice[] }>({ kind: 'choices', ...whose(), of, said: text })).choices;

/** Whether this browser, outside of try-outs, is one of the team's; with `is` that it is so from now on. */
export const ours = (browser: string, is?: boolean): Promise<{ isKnown: boolean; isOurs: boolean }> =>
  post({ kind: 'ours', ...whose(), browser, ...(is === undefined ? {} : { is }) });

/** How often each of what could be pointed at is on record. */
export const onRecord = async (could: readonly Pointed[]): Promise<readonly OnRecord[]> =>
  (await post<{ counts: OnRecord[] }>({ kind: 'recorded', ...whose(), could })).counts;

/** Gives the field in the studio what was pointed at. */
export const tellPointed = (picked: Pointed): Promise<unknown> => post({ kind: 'pointed', ...whose(), picked });

/** Leaves the try-out for good; the page is loaded once more, as everybody gets it. */
export async function leave(): Promise<void> {
  const body = { kind: 'leave', ...whose() };
  ended = 'left';
  forgetSession();
  await post(body).catch(() => undefined); // It ends by itself where nobody hears of it.
  location.reload();
}

export function askSoon(): void {
  if (ended) return;
  if (isAsking) {
    isAgain = true;
    return;
  }
  clearTimeout(timer);
  timer = setTimeout(() => void ask(), AFTER_MS);
}

async function ask(): Promise<void> {
  const asked = question();
  if (!asked || isAsking || ended) return;
  isAsking = true;
  isAgain = false;
  try {
    const answer = await post<Judged>(asked);
    failure = undefined;
    answered = answer;
    // What was judged of the page before says nothing of this one, which has been asked about since.
    if (asked.course.opened === watchedView()?.openedAt) pass(answer, asked.course.opened);
  } catch (cause) {
    if (cause instanceof Refused && cause.status === 401) {
      ended = 'over';
      forgetSession();
    } else failure = cause instanceof Refused ? cause.message : 'The collector cannot be reached; it is asked again.';
  }
  isAsking = false;
  listener();
  if (ended) return;
  clearTimeout(timer);
  // In a tab that is not seen nothing changes but by a clock.
  if (isAgain) askSoon();
  else timer = setTimeout(() => void ask(), session().looks.isSmall || isHidden() ? SMALL_EVERY_MS : EVERY_MS);
}

/** What the page decides in is told to the page script where it has changed, and to each page view anew: it begins with nothing known. */
function pass({ release, document, facts, values }: Judged, opened: number): void {
  if (document) hash = release.hash;
  const news = toJson([release.hash, facts, values, opened]);
  if (news === said) return;
  said = news;
  onAnswer({
    items: [],
    now: now(),
    release: release.hash,
    context: { release, facts, values, pacing: { campaigns: {} }, ...(document ? { document } : {}) },
  });
}

interface State {
  readonly pacing: PacingRecord;
}

function question(): Judge | undefined {
  const watched = watchedView();
  if (!watched) return undefined;
  const { tried, pretend, memory, chosen } = session();
  const { openedAt, hidden, visitElapsed, visitEngaged, visitClicks, signals, held, drawn, adBlocker } = watched;
  if (tried.visits.length === 0) return undefined;
  drawn.to = Math.max(drawn.to, now());
  const { pacing } = JSON.parse(memory['state'] ?? '{}') as Partial<State>;
  const names = answered?.cookies ?? [];
  const cookies = names.length > 0 ? cookiesNamed(names) : undefined;
  return {
    kind: 'judge',
    ...whose(),
    now: now(),
    tried,
    course: {
      opened: openedAt,
      hidden,
      lasted: Math.max(0, visitElapsed),
      engaged: visitEngaged,
      clicks: visitClicks,
      signals: signals as Judge['course']['signals'],
      t: sinceOpened(watched),
    },
    pacing: pacing ?? emptyPacing(openedAt),
    held: [...new Set(held.values())],
    knows: {
      ...readOpenFacts(),
      zone: readZone(),
      ...(cookies ? { cookies } : {}),
      ...(adBlocker === undefined ? {} : { adBlocker }),
    },
    pretend,
    ...(chosen ? { chosen } : {}),
    ...(hash ? { has: hash } : {}),
  };
}

/** Those that rules ask for, and no others. */
function cookiesNamed(names: readonly string[]): Record<string, string> | undefined {
  const all = readCookies();
  return all && Object.fromEntries(Object.entries(all).filter(([name]) => names.includes(name)));
}
