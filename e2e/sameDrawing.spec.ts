import type { Browser, Locator, Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import sharp from 'sharp';
import type { CampaignDocument } from '@/core/campaigns/campaign';
import { startOf } from '@/core/flows/flow';
import type { Block } from '@/core/messages/block';
import type { Message, MessageOf } from '@/core/messages/message';
import { STARTING_POINTS } from '@/core/startingPoints/points';
import { drawn } from './board';
import { openStudio, signIn, STUDIO, visit } from './stack';
import { newVisitor, still } from './visitor';

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

/** A picture of what is drawn on the board: taken anew where it was drawn anew meanwhile, as it is whenever somebody else saves or publishes. */
async function takenOnBoard(ours: Locator, styles: Readonly<Record<string, string>>, isWhole: () => Promise<void>): Promise<Buffer> {
  let taken: Buffer = Buffer.alloc(0);
  await expect(async () => {
    const drawing = await ours.elementHandle({ timeout: 5000 });
    // A frame of the board is a layer of its own, which is put on whole pixels whatever stands in it.
    await ours.evaluate((element) => {
      const { host } = element.getRootNode() as ShadowRoot;
      for (let one: Element | null = host; one; one = one.parentElement)
        (one as HTMLElement).style.setProperty('will-change', 'auto', 'important');
    });
    await moved(ours, { ...styles, translate: 'none' });
    const { x = 0, y = 0 } = (await ours.boundingBox()) ?? {};
    await moved(ours, { translate: `${Math.round(x) - x}px ${Math.round(y) - y}px` });
    taken = await ours.screenshot({ caret: 'hide', timeout: 10_000 });
    expect(await drawing?.evaluate((element) => element.isConnected)).toBe(true);
    await isWhole();
  }).toPass({ timeout: 60_000 });
  return taken;
}

interface Drawing {
  readonly name: string;
  readonly document: CampaignDocument;
}
/** What of a message is drawn; what stands in the page is as wide as the page lets it be, so that it is given a width. */
const BOX: Readonly<Record<string, string>> = { popup: '.box', banner: '.box', inset: '.box', tab: '.tab', chat: '.chat' };
const WIDE: Readonly<Record<string, Readonly<Record<string, string>>>> = { inset: { width: '430px' } };

/** Each is made, drawn on its storyboard, opened on the site, and the two pictures are laid over each other. */
async function sameOnBoth(page: Page, browser: Browser, drawings: readonly Drawing[]): Promise<void> {
  await signIn(page);
  // Nothing of the studio's own stands over a message.
  await page.setViewportSize({ width: 1280, height: 2000 });
  await page.emulateMedia({ reducedMotion: 'reduce' });
  const made: (Drawing & { readonly id: string })[] = [];
  for (const drawing of drawings) {
    const rule = { ...drawing.document.rule, pages: { on: [{ op: 'is', value: '/no-such-page' }] } };
    const { id } = await post(page, '/api/campaigns', { ...drawing.document, rule, name: `Drawn ${drawing.name} ${Date.now()}` });
    await post(page, `/api/campaigns/${id}`, { status: 'live' });
    made.push({ ...drawing, id });
  }
  await post(page, '/api/releases', { name: 'drawn', note: '' });
  const now = new Date('2026-05-04T10:00:00Z');
  try {
    const { context, page: site } = await newVisitor(browser);
    for (const { id, name, document } of made) {
      const first = startOf(document.flow);
      const box = BOX[first.format] as string;
      await page.clock.setFixedTime(now);
      await openStudio(page, `/campaigns/${id}`);
      await page.getByRole('tab', { name: 'Messages' }).click();
      await page.getByLabel('Size of the board').selectOption('1');
      const ours = drawn(page, first.id).locator(box);
      await expect(ours).toBeVisible();
      // As wide as its frame, where a message is as wide as the window.
      await site.setViewportSize({ width: first.format === 'banner' ? WIDTH : 1280, height: 800 });
      await site.clock.setFixedTime(now);
      await visit(site, '/contact');
      await site.evaluate((campaign) => (window as unknown as { crindle: { open: (id: string) => void } }).crindle.open(campaign), id);
      const theirs = site.locator(`[data-crindle] ${box}`);
      await expect(theirs).toBeVisible();
      await still(theirs);
      const html = (element: Element) => element.innerHTML.replace(/https?:\/\/[\w.:]+/g, '');
      await expect.poll(() => ours.evaluate(html), name).toBe(await theirs.evaluate(html));
      // Where the focus is, is no part of a drawing.
      await theirs.evaluate((element) => ((element.getRootNode() as ShadowRoot).activeElement as HTMLElement | null)?.blur());
      const plain = { 'box-shadow': 'none', ...WIDE[first.format] };
      await moved(theirs, { ...plain, ...AT_CORNER });
      const b = await theirs.screenshot({ caret: 'hide' });
      const whole = await theirs.evaluate(html);
      const a = await takenOnBoard(ours, plain, async () => expect(await ours.evaluate(html), name).toBe(whole));
      expect(await unlike(a, b), `${name}: share of pixels that differ`).toBeLessThan(0.002);
    }
    await context.close();
  } finally {
    for (const { id } of made) await post(page, `/api/campaigns/${id}`, { status: 'draft' });
    await post(page, '/api/releases', { name: 'as before', note: '' });
  }
}

test('every starting point is drawn in the studio pixel for pixel as on the site', async ({ page, browser }) => {
  test.slow();
  const drawings = STARTING_POINTS.filter(({ document }) => startOf(document.flow).format !== 'quiet').map(({ id, document }) => ({
    name: id,
    document,
  }));
  expect(drawings.length).toBeGreaterThanOrEqual(16);
  await sameOnBoth(page, browser, drawings);
});

test('insets, tabs and threads, too, are drawn in the studio pixel for pixel as on the site', async ({ page, browser }) => {
  test.slow();
  const { document } = STARTING_POINTS.find(({ document: { flow } }) => startOf(flow).format === 'tab') as (typeof STARTING_POINTS)[number];
  const handle = startOf(document.flow) as MessageOf<'tab'>;
  const others = document.flow.messages.filter(({ id }) => id !== handle.id);
  const blocks: Block[] = [
    { kind: 'heading', text: 'Part of the page' },
    { kind: 'text', text: 'Two lines that say what it is about, long enough to be broken where the inset ends.' },
    { kind: 'coupon', code: 'QUIET-WEEKS', label: 'Copy the code' },
    { kind: 'rating', question: 'How was it?', most: 5, thanks: 'Thank you.' },
    { kind: 'form', fields: [{ kind: 'email', name: 'email', label: 'Email', required: true }], submit: 'Send', thanks: 'Thank you.' },
    {
      kind: 'buttons',
      buttons: [
        { label: 'See them', does: [{ kind: 'page', url: '/offers' }] },
        { label: 'No', quiet: true, does: [{ kind: 'close' }] },
      ],
    },
  ];
  const of = (name: string, message: Message, more: readonly Message[] = []): Drawing => ({
    name,
    document: { ...document, flow: { start: message.id, messages: [message, ...more] } },
  });
  await sameOnBoth(page, browser, [
    of('inset', { id: 'inset', format: 'inset', into: { selector: 'main h1' }, how: 'after', closes: { button: true }, blocks }),
    of('own colours', {
      id: 'own',
      format: 'inset',
      into: { selector: 'main h1' },
      how: 'before',
      colour: '#7a3b12',
      corners: 14,
      closes: { button: false },
      blocks,
    }),
    ...(['start', 'bottom'] as const).map((edge) => of(`tab ${edge}`, { ...handle, edge, text: 'Ask us, we know the way' }, others)),
    of('thread', {
      id: 'thread',
      format: 'chat',
      sender: { name: 'Runa', role: 'Keeper of the hut' },
      conversation: {
        steps: [
          {
            id: 'what',
            says: 'What may we help you with, on a day like this?',
            asks: { kind: 'choice', field: 'what', options: [{ label: 'A question' }, { label: 'Just looking' }] },
          },
        ],
      },
    }),
  ]);
});
