import type { Locator, Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import sharp from 'sharp';
import { startOf } from '@/core/flows/flow';
import { STARTING_POINTS } from '@/core/startingPoints/points';
import { drawn } from './board';
import { newVisitor, openStudio, signIn, still, STUDIO, visit } from './stack';

const WIDTH = 500;
/** Corners are rounded, and what lies behind them differs. */
const EDGE = 10;
/** Of 255. */
const TOLERANCE = 40;

/**
 * The share of pixels of one picture, within its edges, that are like none of the nine around the same place in the other: a letter or an edge that
 * begins between two pixels falls on one side or the other, and is no other drawing.
 */
async function unlike(one: Buffer, other: Buffer): Promise<number> {
  const raw = async (picture: Buffer) => {
    const { data, info } = await sharp(picture).removeAlpha().blur(1).raw().toBuffer({ resolveWithObject: true });
    return { size: [info.width, info.height] as const, data };
  };
  const [a, b] = [await raw(one), await raw(other)];
  expect(a.size).toEqual(b.size);
  const [width, height] = a.size;
  const isLike = (at: number, near: number): boolean =>
    [0, 1, 2].every((channel) => Math.abs((a.data[at + channel] as number) - (b.data[near + channel] as number)) <= TOLERANCE);
  const steps = [-1, 0, 1].flatMap((dy) => [-1, 0, 1].map((dx) => (dy * width + dx) * 3));
  let differing = 0;
  for (let y = EDGE; y < height - EDGE; y++)
    for (let x = EDGE; x < width - EDGE; x++) {
      const at = (y * width + x) * 3;
      if (!steps.some((step) => isLike(at, at + step))) differing++;
    }
  return differing / ((width - 2 * EDGE) * (height - 2 * EDGE));
}

const post = async (page: Page, path: string, data: object): Promise<{ id: string }> => {
  const answer = await page.request.post(STUDIO + path, { headers: { origin: STUDIO }, data });
  expect({ ok: answer.ok(), text: answer.ok() ? '' : await answer.text() }).toEqual({ ok: true, text: '' });
  return (await answer.json()) as { id: string };
};

/** On whole pixels, so that edges are drawn alike. */
const moved = (box: Locator, where: Readonly<Record<string, string>>): Promise<void> =>
  box.evaluate((element, styles) => {
    for (const [name, value] of Object.entries(styles)) (element as HTMLElement).style.setProperty(name, value, 'important');
  }, where);
const AT_CORNER = { position: 'fixed', inset: '0 auto auto 0', margin: '0', translate: 'none' };

test('every starting point that lies over a page is drawn in the studio pixel for pixel as on the site', async ({ page, browser }) => {
  test.slow();
  await signIn(page);
  // Nothing of the studio's own stands over a message.
  await page.setViewportSize({ width: 1280, height: 2000 });
  await page.emulateMedia({ reducedMotion: 'reduce' });
  const over = STARTING_POINTS.filter(({ document }) => ['popup', 'banner'].includes(startOf(document.flow).format));
  expect(over.length).toBeGreaterThanOrEqual(9);
  const made: { id: string; point: (typeof over)[number] }[] = [];
  for (const point of over) {
    const rule = { ...point.document.rule, pages: { on: [{ op: 'is', value: '/no-such-page' }] } };
    const { id } = await post(page, '/api/campaigns', { ...point.document, rule, name: `Drawn ${point.document.name} ${Date.now()}` });
    await post(page, `/api/campaigns/${id}`, { status: 'live' });
    made.push({ id, point });
  }
  await post(page, '/api/releases', { name: 'drawn', note: '' });
  const now = new Date('2026-05-04T10:00:00Z');
  try {
    const { context, page: site } = await newVisitor(browser);
    for (const { id, point } of made) {
      const first = startOf(point.document.flow);
      await page.clock.setFixedTime(now);
      await openStudio(page, `/campaigns/${id}`);
      await page.getByRole('tab', { name: 'Messages' }).click();
      await page.getByLabel('Size of the board').selectOption('1');
      const ours = drawn(page, first.id).locator('.box');
      await expect(ours).toBeVisible();
      // As wide as its frame, where a message is as wide as the window.
      await site.setViewportSize({ width: first.format === 'banner' ? WIDTH : 1280, height: 800 });
      await site.clock.setFixedTime(now);
      await visit(site, '/contact');
      await site.evaluate((name) => (window as unknown as { crindle: { open: (id: string) => void } }).crindle.open(name), id);
      const theirs = site.locator('[data-crindle] .box');
      await expect(theirs).toBeVisible();
      await still(theirs);
      const html = (box: Element) => box.innerHTML.replace(/https?:\/\/[\w.:]+/g, '');
      expect(await ours.evaluate(html), point.id).toBe(await theirs.evaluate(html));
      // Where the focus is, is no part of a drawing.
      await theirs.evaluate((box) => ((box.getRootNode() as ShadowRoot).activeElement as HTMLElement | null)?.blur());
      // A frame of the board is a layer of its own, which is put on whole pixels whatever stands in it.
      await ours.evaluate((box) => {
        const host = (box.getRootNode() as ShadowRoot).host;
        for (let one: Element | null = host; one; one = one.parentElement)
          (one as HTMLElement).style.setProperty('will-change', 'auto', 'important');
      });
      const { x = 0, y = 0 } = (await ours.boundingBox()) ?? {};
      await moved(ours, { 'box-shadow': 'none', translate: `${Math.round(x) - x}px ${Math.round(y) - y}px` });
      await moved(theirs, { 'box-shadow': 'none', ...AT_CORNER });
      const [a, b] = [await ours.screenshot({ caret: 'hide' }), await theirs.screenshot({ caret: 'hide' })];
      expect(await unlike(a, b), `${point.id}: share of pixels that differ`).toBeLessThan(0.002);
    }
    await context.close();
  } finally {
    for (const { id } of made) await post(page, `/api/campaigns/${id}`, { status: 'draft' });
    await post(page, '/api/releases', { name: 'as before', note: '' });
  }
});
