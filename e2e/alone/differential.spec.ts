import fc from 'fast-check';
import { expect, test } from '@playwright/test';
import type { Moment } from '../../src/core/moments/moment';
import { replayView } from '../../src/core/pacing/replay';
import { emptyPacing } from '../../src/core/pacing/pacing';
import type { Pacing } from '../../src/core/pacing/pacing';
import type { ReleasedCampaign } from '../../src/core/release/release';
import type { Signal } from '../../src/core/moments/signal';
import type { Expr } from '../../src/core/logic/expr';
import { emptyRelease, enter, openShop, showings } from './shop';

const CASES = 40;
const seed = Number(process.env['FAST_CHECK_SEED'] ?? 20261125);

const seconds = fc.integer({ min: 1, max: 30 });
const selector = fc.constantFrom('#a', '.far', '#gone');
const leaf: fc.Arbitrary<Moment> = fc.oneof(
  fc.record({ kind: fc.constant('delay' as const), seconds, counting: fc.constantFrom('open' as const, 'engaged' as const) }),
  fc.record({ kind: fc.constant('scroll' as const), atLeast: fc.constantFrom(10, 33, 50, 90) }),
  fc.constant({ kind: 'scrollStart' as const }),
  fc.record({ kind: fc.constant('reach' as const), selector }),
  fc.record({ kind: fc.constant('visible' as const), selector, share: fc.constantFrom(20, 60), seconds: fc.constantFrom(0, 2) }),
  fc.record({ kind: fc.constant('click' as const), selector }),
  fc.record({ kind: fc.constant('clicks' as const), atLeast: fc.constantFrom(1, 2) }),
  fc.record({ kind: fc.constant('event' as const), name: fc.constantFrom('ping', 'pong') }),
  fc.record({ kind: fc.constant('idle' as const), seconds: fc.integer({ min: 2, max: 8 }) }),
  fc.constant({ kind: 'exit' as const }),
);
const moment: fc.Arbitrary<Expr<Moment>> = fc.oneof(
  leaf,
  fc.tuple(leaf, leaf).map(([a, b]): Expr<Moment> => ({ all: [a, b] })),
  fc.tuple(leaf, leaf).map(([a, b]): Expr<Moment> => ({ any: [a, b] })),
);
const pacing: fc.Arbitrary<Pacing> = fc.record({ again: fc.constantFrom('each' as const, 'always' as const) });
const act = fc.oneof(
  fc.record({ what: fc.constant('scroll' as const), to: fc.integer({ min: 0, max: 100 }) }),
  fc.record({ what: fc.constant('click' as const), on: fc.constantFrom('#a', 'h1') }),
  fc.record({ what: fc.constant('did' as const), name: fc.constantFrom('ping', 'pong') }),
  fc.constant({ what: 'leave' as const }),
  fc.constant({ what: 'key' as const }),
  fc.constant({ what: 'hide' as const }),
  fc.constant({ what: 'show' as const }),
);
const scene = fc.record({
  rules: fc.array(fc.tuple(moment, pacing), { minLength: 1, maxLength: 3 }),
  acts: fc.array(fc.tuple(fc.integer({ min: 200, max: 6000 }), act), { minLength: 3, maxLength: 9 }),
});

const BODY = `<h1>Shop</h1><p id="a">Here</p><div style="height:2400px"></div><p class="far">Far</p><div style="height:900px"></div>
<script>
  var hidden = false;
  Object.defineProperty(document, 'visibilityState', { get: function () { return hidden ? 'hidden' : 'visible' } });
  window.act = function (act) {
    if (act.what === 'scroll') window.scrollTo(0, (document.documentElement.scrollHeight - innerHeight) * act.to / 100);
    if (act.what === 'click') document.querySelector(act.on).click();
    if (act.what === 'did') crindle.did(act.name);
    if (act.what === 'leave') document.dispatchEvent(new MouseEvent('mouseout', { bubbles: true, relatedTarget: null, clientY: -1 }));
    if (act.what === 'key') document.dispatchEvent(new KeyboardEvent('keydown', { bubbles: true }));
    if (act.what === 'hide' || act.what === 'show') { hidden = act.what === 'hide'; document.dispatchEvent(new Event('visibilitychange')); }
  };
</script>`;

test(`generated rules on generated visits: the script shows what the core says of what it recorded (seed ${seed})`, async ({ browser }) => {
  const shop = await openShop(browser, { '/': { body: BODY } });
  const { page } = shop;
  // So that what the page has got can be waited for.
  shop.isLong = true;
  // The page's clock stands still until it is moved: what is decided once the parts have come is decided at the very opening.
  const start = Date.parse('2026-11-25T10:00:00Z');
  await page.clock.install({ time: start });
  await enter(shop, '/before');
  await page.clock.pauseAt(start + 10_000);
  let shown = 0;
  for (const [nth, { rules, acts }] of fc.sample(scene, { numRuns: CASES, seed }).entries()) {
    const campaigns = rules.map(([rule, paced], index): ReleasedCampaign => ({
      id: `c${index}`,
      place: 'none',
      pages: {},
      moment: rule,
      pacing: paced,
      goal: { kind: 'form' },
      flow: { start: 'q', messages: [{ id: 'q', format: 'quiet', does: [] }] },
    }));
    const selectors = JSON.stringify(rules).match(/(?<="selector":")[^"]+/g) ?? [];
    shop.release = { ...emptyRelease, number: nth + 2, campaigns, watch: [...new Set(selectors)] };
    // The page script begins with the release that the browser knows: this one, by then.
    const fetched = page.waitForResponse((response) => response.url().endsWith(`/h${nth + 2}`));
    await enter(shop, '/before');
    await fetched;
    // Longer than the gap that the budget keeps after the last showing of the scene before.
    await page.clock.runFor(3000);
    await enter(shop);
    await page.waitForLoadState('networkidle');
    for (const [ms, what] of acts) {
      await page.clock.runFor(ms);
      await page.evaluate((given) => (window as unknown as { act: (act: unknown) => void }).act(given), what);
      await page.clock.runFor(20);
    }
    await page.clock.runFor(12_000);
    const view = shop.items.findLast((item) => item.kind === 'open');
    if (view?.kind !== 'open') throw new Error('No page view was opened');
    const pieces = () => shop.items.flatMap((item) => (item.kind === 'piece' && item.view === view.view ? [item] : []));
    // What the page that is gone kept is sent before what the next one has to say.
    await enter(shop, '/between');
    const last = pieces().at(-1);
    const signals = pieces().flatMap((piece) => piece.signals) as Signal[];
    const live = showings(shop).flatMap((item) =>
      item.kind === 'showing' && item.view === view.view ? [`${item.campaign} ${item.at - view.at}`] : [],
    );
    const replayed = replayView(
      { at: view.at, signals, leave: last?.leave ?? 0, before: { watched: shop.release.watch } },
      {
        candidates: campaigns.map(({ id, place, moment: when, pacing: paced }) => ({
          id,
          place,
          moment: when,
          pacing: paced,
          fits: () => true,
        })),
        record: emptyPacing(view.at),
      },
    ).map(({ campaign, at }) => `${campaign} ${at - view.at}`);
    expect({ nth, rules, signals, showings: live }).toEqual({ nth, rules, signals, showings: replayed });
    shown += live.length;
  }
  // The sample says something only if something shows.
  expect(shown).toBeGreaterThan(CASES / 2);
  await shop.context.close();
});
