import type { Locator } from '@playwright/test';
import { expect, test } from '@playwright/test';
import { faultsOf } from './axe';
import { drawn, flowOf, message, newCampaign, saved } from './board';
import { ask, openStudio, signIn } from './stack';

const closes = { button: true, dim: true, escape: true };

test('a flow is tried where it is written: answers lead on, and nothing is kept', async ({ page }) => {
  await signIn(page);
  const id = await newCampaign(page, {
    flow: {
      start: 'ask',
      messages: [
        {
          id: 'ask',
          format: 'popup',
          closes,
          blocks: [
            {
              kind: 'choice',
              question: 'Well?',
              answers: [
                { label: 'Yes', does: [{ kind: 'message', id: 'more' }] },
                { label: 'No', does: [{ kind: 'close' }] },
              ],
            },
          ],
        },
        { id: 'more', format: 'popup', closes, blocks: [{ kind: 'heading', text: 'There is more' }] },
      ],
    },
  });
  await page.getByRole('button', { name: 'Actions for the message ask' }).click();
  await page.getByRole('menuitem', { name: 'Try it here' }).click();
  const panel = page.getByRole('dialog').filter({ hasText: 'Trying ask' });
  await panel.getByRole('button', { name: 'Yes', exact: true }).click();
  await expect(panel.getByRole('heading', { name: 'There is more' })).toBeVisible();
  await panel.getByRole('button', { name: 'From the beginning' }).click();
  await expect(panel.getByRole('button', { name: 'Yes', exact: true })).toBeVisible();
  expect(await faultsOf(page)).toEqual([]);
  await panel.getByRole('button', { name: 'Done' }).click();
  await expect(panel).toBeHidden();
  expect(await ask(`select from showing where campaign_id = $1`, [id])).toEqual([]);
});

test('another way to come is seen as it is picked; tried, it comes as made, or still for who wants less motion', async ({ page }) => {
  await page.addInitScript(() => {
    const came: string[] = [];
    // What ends within a shadow tree is heard nowhere else.
    const { value: attach } = Object.getOwnPropertyDescriptor(Element.prototype, 'attachShadow') as {
      value: (this: Element, options: ShadowRootInit) => ShadowRoot;
    };
    Element.prototype.attachShadow = function (options) {
      const root = attach.call(this, options);
      root.addEventListener('animationend', (event) => came.push((event as AnimationEvent).animationName));
      return root;
    };
    Object.assign(window, { came });
  });
  await signIn(page);
  await newCampaign(page);
  const came = () => page.evaluate(() => (window as unknown as { came: string[] }).came);
  await message(page, 'ask').getByRole('button', { name: 'Entrance' }).click();
  await page.getByRole('button', { name: 'glides in' }).click();
  await expect.poll(came).toEqual(['glide']);
  const box = drawn(page, 'ask').locator('.box');
  // It stands still again, and what is written next is drawn without it.
  await expect(box).toHaveCSS('animation-name', 'none');
  await page.getByLabel('Heading of ask').fill('Another');
  await expect(box.getByRole('heading', { includeHidden: true })).toHaveText('Another');
  await page.getByRole('button', { name: 'Actions for the message ask' }).click();
  await page.getByRole('menuitem', { name: 'Try it here' }).click();
  const panel = page.getByRole('dialog').filter({ hasText: 'Trying ask' });
  await expect.poll(came).toEqual(['glide', 'glide']);
  await panel.getByRole('button', { name: 'for who wants less' }).click();
  await expect(panel.getByRole('heading', { name: 'Another' })).toBeVisible();
  await expect(panel.locator('.box')).toHaveCSS('animation-name', 'none');
  await panel.getByRole('button', { name: 'as made' }).click();
  await expect.poll(came).toEqual(['glide', 'glide', 'glide']);
});

test('a block is dragged to another gap; a frame is moved by keys, and laid out anew; a large board has an overview', async ({ page }) => {
  await signIn(page);
  const messages = Array.from({ length: 8 }, (_, nth) => ({
    id: `m${nth}`,
    format: 'popup',
    closes,
    blocks: [
      { kind: 'heading', text: `First ${nth}` },
      { kind: 'text', text: 'Second' },
      { kind: 'coupon', code: 'THIRD', label: 'Copy' },
    ],
  }));
  const id = await newCampaign(page, { flow: { start: 'm0', messages } });
  await page.getByRole('textbox', { name: 'Heading of m0' }).focus();
  const grip = message(page, 'm0').getByRole('button', { name: 'Drag: Heading' });
  const end = await message(page, 'm0').getByRole('button', { name: 'Put something in at the end' }).boundingBox();
  await grip.hover();
  await page.mouse.down();
  await page.mouse.move((end?.x ?? 0) + 4, (end?.y ?? 0) + 8, { steps: 6 });
  await page.mouse.up();
  await saved(page);
  expect(((await flowOf(id))?.messages[0]?.['blocks'] as { kind: string }[]).map(({ kind }) => kind)).toEqual([
    'text',
    'coupon',
    'heading',
  ]);
  const frame = message(page, 'm1');
  const before = await frame.boundingBox();
  await page.getByRole('button', { name: 'Move the message m1' }).press('ArrowRight');
  await expect.poll(async () => Math.round((await frame.boundingBox())?.x ?? 0)).toBeGreaterThan(Math.round(before?.x ?? 0));
  const moved = () => ask<{ board: object }>(`select board from campaign where id = $1`, [id]);
  await expect.poll(moved).toEqual([{ board: { m1: { x: expect.any(Number) as unknown, y: 0 } } }]);
  // Whoever opens it next finds it where it was left.
  await openStudio(page, `/campaigns/${id}`);
  await page.getByRole('tab', { name: 'Messages' }).click();
  await page.getByRole('button', { name: 'Lay out anew' }).click();
  await expect.poll(async () => Math.round((await frame.boundingBox())?.x ?? 0)).toBe(Math.round(before?.x ?? 0));
  await expect.poll(moved).toEqual([{ board: {} }]);
  const overview = page.getByRole('navigation', { name: 'All messages' });
  await expect(overview.getByRole('button')).toHaveCount(8);
  await overview.getByRole('button', { name: 'Go to m7' }).click();
  await expect(page.getByLabel('Name of the message m7')).toBeFocused();
});

test('a megabyte that is pasted is refused in words, and emoji and writing from the right are kept as they are', async ({ page }) => {
  await signIn(page);
  const id = await newCampaign(page);
  const heading = page.getByRole('textbox', { name: 'Heading of ask' });
  const paste = (text: string) =>
    heading.evaluate((element, pasted) => {
      const clipboardData = new DataTransfer();
      clipboardData.setData('text/plain', pasted);
      return element.dispatchEvent(new ClipboardEvent('paste', { clipboardData, bubbles: true, cancelable: true }));
    }, text);
  await heading.focus();
  expect(await paste('word '.repeat(200_000))).toBe(false);
  await expect(page.getByText(/Not pasted: Heading of ask holds at most \d+ letters, and would have 1,000,005/)).toBeVisible();
  await expect(heading).toHaveValue('First');
  // What fits is the browser's to put in.
  expect(await paste(' and more')).toBe(true);
  await heading.fill('שלום 👩‍👩‍👧‍👦 e\u0301');
  await expect(drawn(page, 'ask').getByRole('heading', { includeHidden: true })).toHaveText('שלום 👩‍👩‍👧‍👦 e\u0301');
  await saved(page);
  expect(((await flowOf(id))?.messages[0]?.['blocks'] as { text: string }[])[0]?.text).toBe('שלום 👩‍👩‍👧‍👦 e\u0301');
});

test('what is typed fast is there letter by letter, and is undone before and after it is drawn', async ({ page }) => {
  await signIn(page);
  const id = await newCampaign(page, {
    flow: {
      start: 'ask',
      messages: [
        {
          id: 'ask',
          format: 'popup',
          closes,
          blocks: [
            { kind: 'heading', text: '' },
            { kind: 'text', text: 'Second' },
          ],
        },
      ],
    },
  });
  const [heading, text] = [page.getByRole('textbox', { name: 'Heading of ask' }), page.getByRole('textbox', { name: 'Text of ask' })];
  const said = 'Stay three nights, pay for two';
  await heading.focus();
  await page.keyboard.type(said);
  await expect(heading).toHaveValue(said);
  // From one text into another at once, and a tool used at once after a letter: nothing is written over.
  await text.focus();
  await page.keyboard.press('End');
  await page.keyboard.type('!');
  await page.keyboard.press('ControlOrMeta+b');
  await expect(drawn(page, 'ask').getByRole('heading', { includeHidden: true })).toHaveText(said);
  await expect(drawn(page, 'ask').locator('b, strong')).toHaveText('Second!');
  await saved(page);
  expect((await flowOf(id))?.messages[0]?.['blocks']).toMatchObject([
    { kind: 'heading', text: said },
    { kind: 'rich', parts: [{ lines: [[{ text: 'Second!', bold: true }]] }] },
  ]);
  // In the text with formatting, too, letters come one after the other where one was, whatever comes back of them meanwhile.
  await page.keyboard.type(' With soup, in the evening.');
  await expect(drawn(page, 'ask').locator('.rich')).toHaveText('Second! With soup, in the evening.');
  await page.keyboard.type('x');
  await page.keyboard.press('ControlOrMeta+z');
  await expect(drawn(page, 'ask').locator('.rich')).not.toContainText('x');
  await expect(text).not.toContainText('x');
});

test('a campaign becomes a starting point of the team’s, is begun from, and taken away', async ({ page }) => {
  await signIn(page);
  const id = await newCampaign(page);
  const [{ name = '' } = {}] = await ask<{ name: string }>(`select name from campaign where id = $1`, [id]);
  await page.getByRole('button', { name: 'Keep as a starting point' }).click();
  await page.getByLabel('When does one take it, in a sentence?').fill('When the snow comes.');
  await page.getByRole('button', { name: 'Keep it' }).click();
  await expect(page.getByText('Kept: it stands under “Begin from …”')).toBeVisible();
  await openStudio(page, '/campaigns/begin');
  const own = page.getByRole('region', { name: 'The team’s own' });
  const point = own.getByRole('listitem').filter({ has: page.getByRole('heading', { name }) });
  await expect(point).toContainText('When the snow comes.');
  await point.getByRole('button', { name: `Begin with “${name}”` }).click();
  await page.waitForURL(/\/campaigns\/camp_/);
  await expect(page.getByLabel('Name of the campaign')).toHaveValue(`${name} 2`);
  await openStudio(page, '/campaigns/begin');
  await point.getByRole('button', { name: `Take “${name}” away` }).click();
  await expect(point).toBeHidden();
});

test('tools stand over the message and cover nothing of it: first letters are clicked, a gap is pressed, and a block goes to the top of a column', async ({
  page,
}) => {
  await signIn(page);
  const text = (words: string) => ({ kind: 'text', text: words });
  const blocks = [
    { kind: 'heading', text: 'Heading' },
    { kind: 'columns', start: [text('Left one'), text('Left two')], end: [text('Right one')] },
    text('Last'),
  ];
  const id = await newCampaign(page, { flow: { start: 'ask', messages: [{ id: 'ask', format: 'popup', closes, blocks }] } });
  const frame = message(page, 'ask');
  const texts = frame.getByLabel('Text of ask');
  await frame.getByLabel('Heading of ask').click();
  const tools = frame.getByRole('toolbar');
  const boxOf = async (what: Locator) => {
    const box = await what.boundingBox();
    if (!box) throw new Error('it is nowhere');
    return box;
  };
  for (const words of ['Left one', 'Right one', 'Last', 'Left two']) {
    const one = texts.filter({ hasText: words });
    // On its very first letters.
    const { x, y, height } = await boxOf(one);
    await page.mouse.click(x + 3, y + height / 2);
    await expect(one).toBeFocused();
    const line = await boxOf(tools);
    expect(line.y + line.height).toBeLessThanOrEqual((await boxOf(drawn(page, 'ask').locator('.box'))).y);
    const sizes = await tools.getByRole('button').evaluateAll((all) => all.map((button) => button.getBoundingClientRect()));
    for (const size of sizes) expect(Math.min(size.width, size.height)).toBeGreaterThan(26);
  }
  const last = texts.filter({ hasText: 'Last' });
  await last.hover();
  await frame.getByRole('button', { name: 'Drag: Text' }).nth(3).hover();
  await page.mouse.down();
  const top = await boxOf(texts.filter({ hasText: 'Left one' }));
  await page.mouse.move(top.x + 20, top.y + 3, { steps: 6 });
  await page.mouse.up();
  await saved(page);
  const stored = async () => (await flowOf(id))?.messages[0]?.['blocks'] as { start?: { text: string }[] }[];
  expect((await stored())[1]?.start?.map((one) => one.text)).toEqual(['Last', 'Left one', 'Left two']);
  // Columns are picked at their edge, and the tools go when somebody goes on to something else.
  await frame.getByRole('button', { name: 'Two columns', exact: true }).click();
  await expect(frame.getByRole('toolbar', { name: 'Tools: Two columns' })).toBeVisible();
  await page.getByRole('button', { name: 'Copy the flow' }).focus();
  await expect(tools).toHaveCount(0);
});

test('an address that is none is told at its field, and all else is saved', async ({ page }) => {
  await signIn(page);
  const buttons = [{ label: 'Go', does: [{ kind: 'page', url: '/huts' }] }];
  const blocks = [
    { kind: 'heading', text: 'First' },
    { kind: 'buttons', buttons },
  ];
  const id = await newCampaign(page, { flow: { start: 'ask', messages: [{ id: 'ask', format: 'popup', closes, blocks }] } });
  await message(page, 'ask').getByRole('button', { name: 'What “Go” does' }).click();
  const address = page.getByLabel('Address', { exact: true });
  await address.fill('www.site.example');
  await expect(
    page.getByRole('alert').filter({ hasText: '“www.site.example”; an address begins with /, http:// or https://' }),
  ).toBeVisible();
  expect((await boxWidth(address)) ?? 0).toBeGreaterThan(150);
  await page.keyboard.press('Escape');
  await page.getByRole('textbox', { name: 'Heading of ask' }).fill('Another');
  await saved(page);
  const of = async () => (await flowOf(id))?.messages[0]?.['blocks'];
  expect(await of()).toEqual([
    { kind: 'heading', text: 'Another' },
    { kind: 'buttons', buttons },
  ]);
  // What is left empty on the board is told and stays as it was; the rest goes on.
  await page.getByRole('textbox', { name: 'Button 1 of ask' }).fill('');
  await expect(page.getByText(/^Not saved: .*buttons\.0\.label.* All else is saved\.$/)).toBeVisible();
  await page.getByRole('textbox', { name: 'Heading of ask' }).fill('A third');
  await expect.poll(of).toEqual([
    { kind: 'heading', text: 'A third' },
    { kind: 'buttons', buttons },
  ]);
  await page.getByRole('textbox', { name: 'Button 1 of ask' }).fill('Go on');
  await saved(page);
  await expect.poll(of).toEqual([
    { kind: 'heading', text: 'A third' },
    { kind: 'buttons', buttons: [{ ...buttons[0], label: 'Go on' }] },
  ]);
});
const boxWidth = async (field: Locator) => (await field.boundingBox())?.width;
