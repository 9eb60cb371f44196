// Ten visits of the simulator, done by hand in a real browser: what the page script records of them is what the simulator says.
import type { BrowserContext, Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import { doubtsAbout } from '../demo/simulator/plausible';
import type { SimulatedView, SimulatedVisit } from '../demo/simulator/simulate';
import { simulate } from '../demo/simulator/simulate';
import { release, visitorOf } from './release';
import { ask, COLLECTOR, SITE } from './stack';
import { drawn } from './visitor';

const KEY = 'simulatedbyhand';
const VISITS = 10;
const WATCHED = '#join';
type Signal = SimulatedView['signals'][number];

/** Two instants that are the same but for the work of the browser in between, in ms. */
const SAME_MS = 120;

/** Visits that together have every kind of signal, the rarest first. */
function chooseVisits(): SimulatedVisit[] {
  const visits = [...simulate({ seed: 'by hand', visits: 400, days: 20, until: Date.parse('2026-11-25T12:00:00Z'), origin: SITE })]
    .flatMap((life) => life.visits)
    // The last step of a booking reports it by itself, and the account asks for a person.
    .filter(({ views }) => views.length <= 4 && views.every(({ url }) => !/\/(book\/done|account|app|contact)/.test(url)));
  const chosen = new Set<SimulatedVisit>();
  const has = (visit: SimulatedVisit, kind: Signal['s']): boolean =>
    visit.person.device.category === 'desktop' && visit.views.some(({ signals }) => signals.some(({ s }) => s === kind));
  for (const kind of ['show', 'seen', 'event', 'exit', 'click'] as const) {
    const found = visits.find((visit) => has(visit, kind) && !chosen.has(visit));
    if (found) chosen.add(found);
  }
  for (const visit of visits) if (chosen.size < VISITS && visit.person.device.category === 'desktop') chosen.add(visit);
  return [...chosen];
}

/** Does with the page what the signal says that somebody did. */
async function act(page: Page, signal: Signal & { what?: string }): Promise<void> {
  switch (signal.s) {
    case 'scroll': {
      const share = (signal.depth + 0.5) / 100;
      await page.mouse.wheel(0, 0);
      return page.evaluate(
        (to) => scrollTo({ top: (document.documentElement.scrollHeight - innerHeight) * Math.min(1, to), behavior: 'instant' }),
        share,
      );
    }
    case 'click':
      // Where the click leads to is another page view; here it only is a click.
      return page.evaluate((what) => {
        const printOf = (one: Element): string =>
          one.localName + (one.id && `#${one.id}`) + (one.classList[0] ? `.${one.classList[0]}` : '');
        const target = [...document.querySelectorAll(what)].find((one) => printOf(one) === what);
        if (!target) throw new Error(`${location.href} has no ${what}`);
        target.dispatchEvent(new PointerEvent('pointerdown', { bubbles: true }));
        target.addEventListener('click', (event) => event.preventDefault(), { once: true });
        target.dispatchEvent(new MouseEvent('click', { bubbles: true, cancelable: true, composed: true }));
      }, signal.what ?? 'p');
    case 'exit':
      await page.mouse.move(500, 4);
      return page.evaluate(
        () => void document.documentElement.dispatchEvent(new MouseEvent('mouseout', { bubbles: true, relatedTarget: null, clientY: -1 })),
      );
    case 'input':
      return page.mouse.move(300 + (signal.t % 200), 300 + (signal.t % 90));
    case 'event':
      return page.evaluate(
        ([name, props]) => (window as unknown as { crindle: { did: (name: string, props: object) => void } }).crindle.did(name, props),
        [signal.name, signal.props ?? {}] as const,
      );
    case 'hide':
    case 'show':
      return page.evaluate(
        (state) => {
          if (state === 'hidden') Object.defineProperty(document, 'visibilityState', { get: () => state, configurable: true });
          else Reflect.deleteProperty(document, 'visibilityState');
          document.dispatchEvent(new Event('visibilitychange'));
        },
        signal.s === 'hide' ? 'hidden' : 'visible',
      );
    case 'seen':
      return; // Scrolling brings it.
    case 'whole':
      return; // So does waiting.
  }
}

/** Each page view has a tab of its own, one after the other: a clock that stands still does not go on in the next document. */
async function play(context: BrowserContext, view: SimulatedView, at: number): Promise<void> {
  const page = await context.newPage();
  await page.clock.install({ time: at - 1000 });
  await page.clock.pauseAt(at);
  const told = page.waitForResponse((response) => response.url() === `${COLLECTOR}/c` && response.ok());
  await page.goto(view.url);
  await told;
  let now = await page.evaluate(() => Date.now());
  const openedAt = now;
  for (const signal of view.signals) {
    if (signal.s === 'hide' && signal.t === view.leaveMs) break; // Going on to the next page hides this one.
    const wait = openedAt + signal.t - now;
    if (wait > 0) await page.clock.runFor(wait);
    now = Math.max(now, openedAt + signal.t);
    await act(page, signal);
    // What the browser itself tells of (scrolling, elements in view) comes in its own time.
    await drawn(page);
    await page.clock.runFor(20);
    now += 20;
    await drawn(page);
  }
  await page.clock.runFor(Math.max(0, openedAt + view.leaveMs - now));
  await page.goto('about:blank');
  await page.close();
}

interface Recorded extends Record<string, unknown> {
  readonly url: string;
  readonly signals: (Signal & { what?: string })[];
  readonly engaged: number;
  readonly scroll: number;
  readonly leave: number;
  readonly fixed: boolean | null;
  readonly watched: string[];
  readonly bytes: number;
}

const recordedOf = (browserId: string): Promise<Recorded[]> =>
  ask<Recorded>(
    `select url, page_view.engaged_ms as engaged, scroll, leave_ms as leave, cannot_scroll as fixed, coalesce(watched, '{}') as watched,
            jsonb_path_query_array(jsonb_agg(piece.signals order by piece), '$[*][*]') as signals, sum(length(piece.signals::text))::int as bytes
       from page_view join visitor on visitor.site_id = page_view.site_id and visitor.id = page_view.visitor_id
       join signal_piece as piece on piece.site_id = page_view.site_id and piece.view_id = page_view.id
      where browser_id = $1 and url not like '%/contact' group by page_view.site_id, page_view.id order by page_view.id`,
    [browserId],
  );

/** What both must agree on: everything but input that came along with it, and the browser's own measure of an element. */
const gist = (signals: readonly (Signal & { what?: string })[]): string[] =>
  signals.flatMap((signal) => {
    if (signal.s === 'input' || signal.s === 'seen') return [];
    return [
      `${signal.s}${signal.s === 'scroll' ? ` ${signal.depth}` : ''}${signal.s === 'event' ? ` ${signal.name}` : ''}${signal.s === 'click' ? ` ${signal.what}` : ''}`,
    ];
  });

test('ten simulated visits, done by hand, are recorded as the simulator says', async ({ browser }) => {
  test.setTimeout(300_000);
  // Somebody must ask for the element, and nothing may come up in between.
  await release(KEY, [
    {
      id: 'watching',
      rule: { people: { kind: 'tagged', tag: 'nobody' }, moment: { kind: 'reach', selector: WATCHED } },
      messages: [{ id: 'a', format: 'quiet', does: [] }],
    },
  ]);
  const visits = chooseVisits();
  expect(visits).toHaveLength(VISITS);
  const kinds = new Set<string>();
  const [bySimulator, byBrowser]: [number[], number[]] = [[], []];
  for (const visit of visits) {
    const { page, close } = await visitorOf(browser, KEY, { viewport: { width: 1280, height: 800 } });
    const from = Date.now() - visit.at;
    for (const view of visit.views) await play(page.context(), view, from + view.at);
    await page.goto(`${SITE}/contact`);
    const browserId = await page.evaluate(
      (key) => (JSON.parse(localStorage.getItem(`crindle:${key}:state`) ?? '{}') as { browser: string }).browser,
      KEY,
    );
    await expect
      .poll(async () => (await recordedOf(browserId)).map(({ signals }) => signals.at(-1)?.s))
      .toEqual(visit.views.map(() => 'hide'));
    const recorded = await recordedOf(browserId);
    await close();

    for (const [index, view] of visit.views.entries()) {
      const real = recorded[index] as Recorded;
      const of = `${view.url}, ${view.leaveMs} ms`;
      expect({ of, doubts: doubtsAbout({ ...real, cannotScroll: real.fixed ?? undefined }) }).toEqual({ of, doubts: [] });
      expect({ of, signals: gist(real.signals) }).toEqual({ of, signals: gist(view.signals) });
      const others = (signals: readonly Signal[]) => signals.filter(({ s }) => s !== 'input' && s !== 'seen');
      const late = others(real.signals).map(({ t }, at) => Math.abs(t - (others(view.signals)[at] as Signal).t));
      expect({ of, late: late.filter((ms) => ms > SAME_MS) }).toEqual({ of, late: [] });
      real.signals.forEach(({ s }) => kinds.add(s));
      bySimulator.push(JSON.stringify(view.signals).length);
      byBrowser.push(real.bytes);
    }
  }
  expect([...kinds].sort()).toEqual(['click', 'event', 'exit', 'hide', 'input', 'scroll', 'seen', 'show']);
  const sum = (values: number[]): number => values.reduce((total, value) => total + value, 0);
  expect(sum(byBrowser) / sum(bySimulator)).toBeGreaterThan(0.7);
  expect(sum(byBrowser) / sum(bySimulator)).toBeLessThan(1.4);
});
