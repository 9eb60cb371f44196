import { expect, test } from '@playwright/test';
import { drawn, flowOf, message, newCampaign, publish, saved } from './board';
import { ask, openStudio, signIn, STUDIO, visit } from './stack';
import { drawn as twoFrames, newVisitor, popup } from './visitor';

const open = (id: string): void => (window as unknown as { crindle: { open: (id: string) => void } }).crindle.open(id);
const closes = { button: true, dim: true, escape: true };
/** On a page that nobody visits: campaigns are opened by hand. */
const nowhere = { pages: { on: [{ op: 'like', value: '/no-such-page' }] }, moment: { kind: 'exit' } };

test('a text is made bold, a list and a link by keys and tools, undone, and shown so on the site', async ({ page, browser }) => {
  await signIn(page);
  const blocks = [{ kind: 'text', text: 'Bring warm things' }];
  const id = await newCampaign(page, { rule: nowhere, flow: { start: 'ask', messages: [{ id: 'ask', format: 'popup', closes, blocks }] } });
  const text = page.getByRole('textbox', { name: 'Text of ask' });
  await text.focus();
  await page.keyboard.press('Home');
  for (let letters = 0; letters < 'Bring '.length; letters++) await page.keyboard.press('ArrowRight');
  for (let letters = 0; letters < 'warm'.length; letters++) await page.keyboard.press('Shift+ArrowRight');
  await page.keyboard.press('Control+b');
  const shown = drawn(page, 'ask').locator('.rich');
  await expect(shown.locator('strong')).toHaveText('warm');
  // The one who writes goes on where they were.
  await expect(text).toBeFocused();
  // The caret may come back to where it was put, a moment after the focus.
  await expect(async () => {
    await page.keyboard.press('Control+End');
    await twoFrames(page);
    expect(await page.evaluate(() => getSelection()?.isCollapsed)).toBe(true);
  }).toPass();
  await page.keyboard.press('Enter');
  await page.keyboard.type('for {first name, or everybody}');
  await expect(shown.locator('p')).toHaveText(['Bring warm things', 'for everybody']);
  await page.getByRole('button', { name: 'List with dots' }).click();
  await expect(shown.locator('li')).toHaveText(['for everybody']);
  await page.keyboard.press('Enter');
  await page.keyboard.type('the list');
  await page.keyboard.press('Shift+Home');
  await page.getByRole('button', { name: 'Link', exact: true }).click();
  await page.getByLabel('Leads to').fill('javascript:alert(1)');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('alert').filter({ hasText: 'An address begins with' })).toBeVisible();
  await page.getByLabel('Leads to').fill('/journal/packing');
  await page.keyboard.press('Enter');
  await expect(shown.getByRole('link', { name: 'the list', includeHidden: true })).toHaveAttribute('href', /\/journal\/packing$/);
  await saved(page);
  expect((await flowOf(id))?.messages[0]?.['blocks']).toEqual([
    {
      kind: 'rich',
      parts: [
        {
          as: 'paragraphs',
          lines: [[{ text: 'Bring ' }, { text: 'warm', bold: true }, { text: ' things' }]],
        },
        { as: 'bullets', lines: [[{ text: 'for {first name, or everybody}' }], [{ text: 'the list', link: '/journal/packing' }]] },
      ],
    },
  ]);
  await publish(page, id, 'live');
  try {
    const { context, page: site } = await newVisitor(browser);
    await visit(site, '/contact');
    await site.evaluate(open, id);
    await expect(popup(site).locator('li')).toHaveText(['for everybody', 'the list']);
    const html = (box: Element) => box.outerHTML.replace(/https?:\/\/[\w.:]+/g, '');
    expect(await popup(site).locator('.rich').evaluate(html)).toBe(await shown.evaluate(html));
    await popup(site).getByRole('link', { name: 'the list' }).click();
    await site.waitForURL('**/journal/packing');
    const clicked = () =>
      ask(`select kind from outcome join showing on showing.id = showing_id and showing.site_id = outcome.site_id where campaign_id = $1`, [
        id,
      ]);
    await expect.poll(clicked).toContainEqual({ kind: 'clicked' });
    await context.close();
  } finally {
    await publish(page, id, 'draft');
  }
  // Without any formatting it is a plain text again.
  await text.focus();
  for (let steps = 0; steps < 40 && (await shown.count()) > 0; steps++) await page.keyboard.press('Control+z');
  await expect(drawn(page, 'ask').locator('.box > p')).toHaveText('Bring warm things');
});

test('looks and values of the brand are in every message, and a value is changed in one place', async ({ page, browser }) => {
  await signIn(page);
  const brandNow = async () => (await (await page.request.get(`${STUDIO}/api/site/brand`)).json()) as object;
  const before = await brandNow();
  try {
    await openStudio(page, '/setup/brand');
    await page.getByRole('button', { name: 'Colour' }).click();
    await page.getByLabel('Of buttons and marks').fill('#d8b040');
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: 'Take #b5901d' }).click();
    await expect(page.getByLabel('Name of value 1')).toHaveValue('phone');
    await page.getByLabel('Text of value 1').fill('+43 512 555 099');
    await page.getByRole('button', { name: 'Add a value' }).click();
    await page.getByLabel('Name of value 3').fill('Phone');
    await page.getByLabel('Text of value 3').fill('112');
    await page.getByRole('button', { name: 'Save the brand' }).click();
    await expect(page.getByRole('alert').filter({ hasText: 'values with names of their own' })).toBeVisible();
    await page.getByRole('button', { name: 'Take out value 3' }).click();
    await page.getByRole('button', { name: 'Save the brand' }).click();
    await expect(page.getByText('Saved; visitors see it with the next release')).toBeVisible();

    const blocks = [
      { kind: 'heading', text: 'Ring {site phone}' },
      { kind: 'buttons', buttons: [{ label: 'Ring us', does: [{ kind: 'phone', number: '{site phone}' }] }] },
      { kind: 'text', text: 'Code {site code}' },
    ];
    const id = await newCampaign(page, {
      rule: nowhere,
      flow: { start: 'ask', messages: [{ id: 'ask', format: 'popup', closes, blocks }] },
    });
    await expect(drawn(page, 'ask').locator('h2')).toHaveText('Ring +43 512 555 099');
    await expect(page.getByRole('region', { name: 'What could go wrong' })).toContainText(
      'names {site code}, which Setup, Brand does not have',
    );
    // It keeps the campaign from being published, until something is said instead.
    await page.request.post(`${STUDIO}/api/campaigns/${id}`, { headers: { origin: STUDIO }, data: { status: 'live' } });
    const refused = await page.request.post(`${STUDIO}/api/releases`, { headers: { origin: STUDIO }, data: { name: 'x', note: '' } });
    expect([refused.status(), await refused.text()]).toEqual([409, expect.stringContaining('it names {site code}')]);
    await page.getByRole('textbox', { name: 'Text of ask' }).fill('Code {site code, or none yet}');
    await saved(page);
    // Nor does a value become what an address or a number cannot be.
    const now = await brandNow();
    const set = (was: object, text: string) =>
      page.request.put(`${STUDIO}/api/site/brand`, {
        headers: { origin: STUDIO },
        data: {
          was,
          brand: {
            ...now,
            values: [
              { name: 'phone', text },
              { name: 'quiet code', text: 'QUIET-33' },
            ],
          },
        },
      });
    expect((await set(now, 'javascript:alert(1)')).status()).toBe(200);
    const unfit = await page.request.post(`${STUDIO}/api/releases`, { headers: { origin: STUDIO }, data: { name: 'x', note: '' } });
    expect([unfit.status(), await unfit.text()]).toEqual([409, expect.stringContaining('with the site’s values put in')]);
    expect((await set(await brandNow(), '+43 512 555 099')).status()).toBe(200);
    await publish(page, id, 'live');
    const { context, page: site } = await newVisitor(browser);
    await visit(site, '/contact');
    await site.evaluate(open, id);
    await expect(popup(site).getByRole('heading')).toHaveText('Ring +43 512 555 099');
    await expect(popup(site).getByRole('link', { name: 'Ring us' })).toHaveAttribute('href', 'tel:+43512555099');
    expect(
      await popup(site)
        .getByRole('link', { name: 'Ring us' })
        .evaluate((link) => getComputedStyle(link).backgroundColor),
    ).toBe('rgb(181, 144, 29)');
    await expect(popup(site).getByText('Code none yet')).toBeVisible();

    // Changed once, and two people at the brand do not overwrite each other.
    const was = await brandNow();
    const put = (data: object) => page.request.put(`${STUDIO}/api/site/brand`, { headers: { origin: STUDIO }, data });
    expect(
      (
        await put({
          was,
          brand: {
            ...was,
            values: [
              { name: 'Phone', text: '112' },
              { name: 'quiet code', text: 'QUIET-33' },
            ],
          },
        })
      ).status(),
    ).toBe(200);
    expect((await put({ was, brand: { colour: '#000000' } })).status()).toBe(409);
    await publish(page, id, 'live');
    await visit(site, '/contact');
    await expect
      .poll(async () => {
        await site.reload();
        await site.waitForFunction(() => 'crindle' in window);
        await site.evaluate(open, id);
        return popup(site).getByRole('heading').textContent();
      })
      .toBe('Ring 112');
    await context.close();
    await publish(page, id, 'draft');
  } finally {
    await page.request.put(`${STUDIO}/api/site/brand`, { headers: { origin: STUDIO }, data: { was: await brandNow(), brand: before } });
  }
});

test('a block for some is shown to them alone, with the page they looked at most named in it', async ({ page, browser }) => {
  await signIn(page);
  const blocks = [
    { kind: 'heading', text: 'Still thinking of {most viewed huts, or the mountains}?' },
    { kind: 'text', text: 'For who came for the first time' },
    { kind: 'text', text: 'For who looked at huts', for: { kind: 'viewed', pages: [{ op: 'like', value: '/huts/*' }], times: { min: 2 } } },
  ];
  const id = await newCampaign(page, {
    rule: { pages: { on: [{ op: 'is', value: '/contact' }] }, moment: { kind: 'delay', seconds: 0 } },
    flow: { start: 'ask', messages: [{ id: 'ask', format: 'popup', closes, blocks }] },
  });
  await message(page, 'ask').getByLabel('Text of ask').first().focus();
  await page.getByRole('button', { name: 'Whom it is for: Text' }).click();
  await page.getByLabel('Type whom it is for').fill('1 visit');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Escape');
  const sees = page.getByRole('region', { name: 'Who sees what of ask' });
  await expect(sees.getByRole('listitem')).toHaveCount(2);
  await expect(sees.getByText(/^[≈ ]*[\d,]+(–[\d,]+)? showings?$/)).toHaveCount(3);
  await saved(page);
  await publish(page, id, 'live');
  try {
    const first = await newVisitor(browser);
    await visit(first.page, '/contact');
    await expect(popup(first.page).getByRole('heading')).toHaveText('Still thinking of the mountains?');
    await expect(popup(first.page).locator('p')).toHaveText(['For who came for the first time']);
    await first.context.close();
    const looked = await newVisitor(browser);
    for (const path of ['/huts/upper-moss', '/huts/skarn-shelter', '/huts/skarn-shelter']) await visit(looked.page, path);
    await visit(looked.page, '/contact');
    await expect(popup(looked.page)).toBeVisible();
    await expect(popup(looked.page).getByText('For who looked at huts')).toBeVisible();
    await expect(popup(looked.page).getByRole('heading')).toHaveText(/^Still thinking of Skarn Shelter\b/);
    await looked.context.close();
  } finally {
    await publish(page, id, 'draft');
  }
});

test('three campaigns of one purpose: joined, changed in one, grouped, left', async ({ page }) => {
  await signIn(page);
  const ids: string[] = [];
  for (let number = 0; number < 3; number++) ids.push(await newCampaign(page, { rule: nowhere }));
  const rules = () =>
    Promise.all(
      ids.map(
        async (id) => (await ask<{ rule: { people?: object; moment?: object } }>(`select rule from campaign where id = $1`, [id]))[0]?.rule,
      ),
    );
  const line = page.getByRole('region', { name: 'Purpose' });
  const name = `Hut letter ${ids[0]}`;
  await openStudio(page, `/campaigns/${ids[0]}`);
  await line.getByRole('button', { name: 'Share who, where and success' }).click();
  await page.getByLabel('Name', { exact: true }).fill(name);
  await page.getByRole('button', { name: 'Make a purpose of this campaign’s' }).click();
  await expect(line).toContainText('One of 1 form of');
  for (const [nth, id] of ids.slice(1).entries()) {
    await openStudio(page, `/campaigns/${id}`);
    await line.getByRole('button', { name: 'Share who, where and success' }).click();
    await page.getByRole('button', { name: new RegExp(`^${name} with`) }).click();
    await expect(line).toContainText(`One of ${nth + 2} forms of`);
  }
  await page.getByLabel(/^Type a phrase/).fill('3 visits');
  await page.keyboard.press('Enter');
  await saved(page);
  const [first, second, third] = await rules();
  expect(third?.people).toBeDefined();
  expect([first?.people, second?.people]).toEqual([third?.people, third?.people]);
  expect(first?.moment).toEqual({ kind: 'exit' });
  await openStudio(page, '/campaigns');
  await page.getByRole('button', { name: 'by purpose' }).click();
  await expect(page.locator('th', { hasText: name })).toBeVisible();
  await openStudio(page, `/campaigns/${ids[0]}`);
  await line.getByRole('button', { name: 'Leave it' }).click();
  await expect(line).toContainText('A campaign of its own');
  expect((await rules())[0]?.people).toEqual(third?.people);
});

test('a form that wants emails to be good asks before it is sent, says so, and is sent once mended', async ({ page, browser }) => {
  await signIn(page);
  const blocks = [
    {
      kind: 'form',
      fields: [
        { kind: 'email', name: 'email', label: 'Your email', required: true, checked: true, wrong: 'Another address, please.' },
        { kind: 'phone', name: 'phone', label: 'Your number', checked: true, country: 'AT', wrong: 'Is that a number?' },
      ],
      submit: 'Send',
      thanks: 'Thank you.',
    },
  ];
  const id = await newCampaign(page, { rule: nowhere, flow: { start: 'ask', messages: [{ id: 'ask', format: 'popup', closes, blocks }] } });
  await publish(page, id, 'live');
  try {
    const { context, page: site } = await newVisitor(browser);
    await visit(site, '/contact');
    await site.evaluate(open, id);
    const box = popup(site);
    await box.getByLabel('Your email').fill('quick@mailinator.com');
    await box.getByLabel('Your number').fill('0512 555010');
    await box.getByRole('button', { name: 'Send' }).click();
    await expect(box.getByText('Another address, please.')).toBeVisible();
    await expect(box.getByLabel('Your email')).toBeFocused();
    await box.getByLabel('Your email').fill(`good-${id}@post.example`);
    await box.getByLabel('Your number').fill('12');
    await box.getByRole('button', { name: 'Send' }).click();
    await expect(box.getByText('Is that a number?')).toBeVisible();
    // Whoever cannot be asked says nothing against it: no lead is lost by it.
    await site.route('**/check', (route) => route.abort());
    await box.getByRole('button', { name: 'Send' }).click();
    await expect(box.getByText('Thank you.')).toBeVisible();
    await expect.poll(() => ask(`select email from lead where campaign_id = $1`, [id])).toEqual([{ email: `good-${id}@post.example` }]);
    await context.close();
  } finally {
    await publish(page, id, 'draft');
  }
});
