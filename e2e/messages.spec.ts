import { expect, test } from '@playwright/test';
import { faultsOf } from './axe';
import { drawn, flowOf, message, newCampaign, publish, putIn, saved } from './board';
import { ask, openStudio, signIn, STUDIO, visit } from './stack';
import { newVisitor, popup, still } from './visitor';

test('yes or no, a form, and a second thought that leads back to it: made from an empty campaign, published, and run to both ends', async ({
  page,
  browser,
}) => {
  await signIn(page);
  // On a page that nobody visits: it is opened by hand below.
  const id = await newCampaign(page, { rule: { pages: { on: [{ op: 'like', value: '/no-such-page' }] }, moment: { kind: 'exit' } } });
  await page.getByLabel('Heading of ask').fill('Would half-price bunks change your plans?');
  await putIn(page, 'ask', 'Put something in at the end', 'Question');
  await page.getByLabel('Question of ask').fill('Well?');
  await page.getByLabel('Answer 1 of ask').fill('Yes, tell me');
  await page.getByLabel('Answer 2 of ask').fill('No, not this year');
  // From each answer to a message of its own.
  for (const [answer, name] of [
    ['Yes, tell me', 'leave-email'],
    ['No, not this year', 'second-thought'],
  ] as const) {
    await message(page, 'ask')
      .getByRole('button', { name: `What “${answer}” does` })
      .click();
    await page.getByRole('button', { name: 'Open a new pop-up' }).click();
    const named = page.getByLabel('Name of the message popup');
    await named.fill(name);
    await named.press('Enter');
    await expect(message(page, name)).toBeVisible();
  }
  await message(page, 'ask').getByRole('button', { name: 'What “Yes, tell me” does' }).click();
  await page.getByRole('button', { name: 'Do more' }).click();
  await page.getByLabel('Tag', { exact: true }).fill('wants-plan');
  await page.keyboard.press('Escape');
  await page.getByLabel('Heading of leave-email').fill('Then it pays from the third night');
  await putIn(page, 'leave-email', 'Put something in at the end', 'Form');
  await page.getByLabel('Field 1 of leave-email').fill('Where shall we write to?');
  await page.getByLabel('Heading of second-thought').fill('One thing before you go');
  await putIn(page, 'second-thought', 'Put something in at the end', 'Buttons');
  await page.getByLabel('Button 1 of second-thought').fill('Then perhaps');
  await message(page, 'second-thought').getByRole('button', { name: 'What “Then perhaps” does' }).click();
  await page.getByLabel('Action 1', { exact: true }).selectOption('message');
  await page.getByLabel('Message to open').selectOption('leave-email');
  await page.keyboard.press('Escape');
  await expect(drawn(page, 'ask').getByRole('button', { name: 'No, not this year', includeHidden: true })).toHaveText('No, not this year');
  await expect(page.getByRole('region', { name: 'What could go wrong' })).toBeHidden();
  await saved(page);
  const flow = await flowOf(id);
  expect(flow).toMatchObject({
    start: 'ask',
    messages: [
      {
        blocks: [
          { text: 'Would half-price bunks change your plans?' },
          {
            answers: [
              {
                label: 'Yes, tell me',
                does: [
                  { kind: 'message', id: 'leave-email' },
                  { kind: 'tag', tag: 'wants-plan' },
                ],
              },
              { label: 'No, not this year', does: [{ kind: 'message', id: 'second-thought' }] },
            ],
          },
        ],
      },
      { id: 'leave-email', blocks: [{}, {}, { kind: 'form', fields: [{ label: 'Where shall we write to?' }] }] },
      { id: 'second-thought', blocks: [{}, {}, { buttons: [{ label: 'Then perhaps', does: [{ kind: 'message', id: 'leave-email' }] }] }] },
    ],
  });
  expect(await faultsOf(page, { within: 'main' })).toEqual([]);

  await publish(page, id, 'live');
  try {
    for (const [answer, then, address] of [
      ['Yes, tell me', [], `yes-${id}@post.example`],
      ['No, not this year', ['Then perhaps'], `no-${id}@post.example`],
    ] as const) {
      const { context, page: site } = await newVisitor(browser);
      await visit(site, '/contact');
      await site.evaluate((campaign) => (window as unknown as { crindle: { open: (id: string) => void } }).crindle.open(campaign), id);
      for (const label of [answer, ...then]) await popup(site).getByRole('button', { name: label }).click();
      await expect(popup(site).getByRole('heading')).toHaveText('Then it pays from the third night');
      await popup(site).getByLabel('Where shall we write to?').fill(address);
      await popup(site).getByRole('button', { name: 'Send' }).click();
      await expect(popup(site).getByText('Thank you.')).toBeVisible();
      await expect.poll(async () => (await ask(`select from lead where campaign_id = $1 and email = $2`, [id, address])).length).toBe(1);
      await context.close();
    }
    const tagged = () =>
      ask(
        `select email from visitor join visitor_change on visitor_change.site_id = visitor.site_id and visitor_id = visitor.id where kind = 'tag' and key = 'wants-plan'`,
      );
    await expect.poll(tagged).toEqual([{ email: `yes-${id}@post.example` }]);
    expect(await ask(`select count(*)::int as shown from showing where campaign_id = $1 and shown`, [id])).toEqual([{ shown: 2 }]);
    expect(
      await ask(
        `select kind, count(*)::int as times from outcome join showing on showing.site_id = outcome.site_id and showing.id = showing_id where campaign_id = $1 and kind = 'converted' group by 1`,
        [id],
      ),
    ).toEqual([{ kind: 'converted', times: 2 }]);
  } finally {
    await publish(page, id, 'draft');
  }
});

test('by keys alone: written, moved, copied, taken out, and undone', async ({ page }) => {
  await signIn(page);
  const id = await newCampaign(page);
  const texts = async () =>
    ((await flowOf(id))?.messages[0]?.['blocks'] as { text?: string; kind: string }[]).map(({ text, kind }) => text ?? kind);
  await page.getByLabel('Name of the message ask').focus();
  const heading = page.getByRole('textbox', { name: 'Heading of ask' });
  for (let presses = 0; presses < 12 && !(await heading.evaluate((element) => element === document.activeElement)); presses++)
    await page.keyboard.press('Tab');
  await expect(heading).toBeFocused();
  await page.keyboard.press('Control+a');
  await page.keyboard.type('Typed <b>as it is</b> שלום 👩‍👩‍👧');
  await page.keyboard.press('Enter');
  await expect(page.locator('[data-drawn=ask] h2')).toHaveText('Typed <b>as it is</b> שלום 👩‍👩‍👧');
  // Its tools come next.
  for (const tool of ['Move up: Heading', 'Copy: Heading']) {
    const button = page.getByRole('button', { name: tool });
    if (await button.isDisabled()) continue;
    for (let presses = 0; presses < 6 && !(await button.evaluate((element) => element === document.activeElement)); presses++)
      await page.keyboard.press('Tab');
    await expect(button).toBeFocused();
    await page.keyboard.press('Enter');
  }
  await expect(page.locator('[data-drawn=ask] h2')).toHaveCount(2);
  await saved(page);
  expect(await texts()).toEqual(['Typed <b>as it is</b> שלום 👩‍👩‍👧', 'Typed <b>as it is</b> שלום 👩‍👩‍👧']);
  await page.keyboard.press('Control+z');
  await expect(page.locator('[data-drawn=ask] h2')).toHaveCount(1);
  await page.keyboard.press('Control+Shift+z');
  await expect(page.locator('[data-drawn=ask] h2')).toHaveCount(2);
});

test('every block can be put in, and is drawn; every format can be added, and the flow can be saved', async ({ page }) => {
  await signIn(page);
  const id = await newCampaign(page);
  const kinds = ['Picture', 'Heading', 'Text', 'Countdown', 'Coupon', 'Two columns', 'Form', 'Question', 'Rating', 'Space', 'Buttons'];
  for (const kind of kinds) await putIn(page, 'ask', 'Put something in before “Heading”', kind === 'Heading' ? 'Text' : kind);
  const made = (await drawn(page, 'ask').locator('.box > :not(.close)').count()) - 1;
  expect(made).toBe(kinds.length);
  for (const format of ['Pop-up', 'Banner', 'Inset, part of the page', 'Chat message', 'Tab, a handle at the edge', 'Quiet action']) {
    await page.getByRole('button', { name: 'Add a message' }).click();
    await page.getByRole('menuitem', { name: format }).click();
  }
  await expect(page.getByText('7 of 40 messages')).toBeVisible();
  await saved(page);
  expect((await flowOf(id))?.messages.map(({ format }) => format)).toEqual(['popup', 'popup', 'banner', 'inset', 'chat', 'tab', 'quiet']);
  // None of the new ones is reached yet, which is said; taking one out mends it.
  const wrong = page.getByRole('region', { name: 'What could go wrong' });
  await expect(wrong.getByText('is never reached')).toHaveCount(6);
  await wrong.getByRole('button', { name: 'Take it out' }).first().click();
  await expect(wrong.getByText('is never reached')).toHaveCount(5);
});

test('what the editor draws is what the site shows, element by element and of the same size', async ({ page, browser }) => {
  await signIn(page);
  await openStudio(page, '/campaigns/camp_member_question');
  await page.getByRole('tab', { name: 'Messages' }).click();
  await page.getByLabel('Size of the board').selectOption('1');
  const { context, page: site } = await newVisitor(browser);
  await visit(site, '/membership');
  await site.evaluate(() => (window as unknown as { crindle: { open: (id: string) => void } }).crindle.open('camp_member_question'));
  await expect(popup(site)).toBeVisible();
  await still(popup(site));
  const of = (box: Element) => ({
    html: box.innerHTML,
    width: (box as HTMLElement).offsetWidth,
    height: (box as HTMLElement).offsetHeight,
  });
  expect(await drawn(page, 'ask').locator('.box').evaluate(of)).toEqual(await popup(site).evaluate(of));
  await popup(site).getByRole('button', { name: 'No, not this year' }).click();
  await expect(popup(site).getByRole('heading')).toHaveText('One thing before you go');
  expect(await drawn(page, 'second-thought').locator('.box').evaluate(of)).toEqual(await popup(site).evaluate(of));
  await context.close();
});

test('two versions and some who see nothing are dealt by keys, and a message that a variant begins at stays', async ({ page }) => {
  await signIn(page);
  const id = await newCampaign(page);
  await page.getByRole('button', { name: 'Add a variant' }).click();
  // To be written otherwise: a copy of what the largest begins with.
  await expect(message(page, 'ask-2')).toBeVisible();
  const deal = page.getByRole('region', { name: 'Who gets what' });
  await deal.getByLabel('Name of variant 1').fill('asks plainly');
  await deal.getByLabel('Of 100, how many see nothing').fill('20');
  await deal.getByRole('slider', { name: 'Share of asks plainly' }).press('ArrowLeft');
  await expect(deal.getByText('39 · asks plainly')).toBeVisible();
  await expect(deal.getByText('20 · see nothing')).toBeVisible();
  await saved(page);
  const [stored] = await ask(`select holdout::float8 as holdout, variants from campaign where id = $1`, [id]);
  expect(stored).toEqual({
    holdout: 0.2,
    variants: [
      { name: 'asks plainly', start: 'ask', weight: 39 },
      { name: 'ask-2', start: 'ask-2', weight: 41 },
    ],
  });
  await page.getByRole('button', { name: 'Actions for the message ask-2' }).click();
  await page.getByRole('menuitem', { name: 'Take it out' }).click();
  await expect(page.getByText('A variant begins at ask-2; let it begin elsewhere first')).toBeVisible();
  await expect(message(page, 'ask-2')).toBeVisible();
});

test('a conversation with a branch is written as a script', async ({ page }) => {
  await signIn(page);
  const id = await newCampaign(page);
  await page.getByRole('button', { name: 'Add a message' }).click();
  await page.getByRole('menuitem', { name: 'Chat message' }).click();
  const script = page.getByRole('region', { name: 'Script of chat' });
  await script.getByLabel('Sender').fill('Jorun');
  await script.getByLabel('What step 1 says').fill('Is anything in the way?');
  await script.getByLabel('What step 1 asks').selectOption('choice');
  await script.getByRole('button', { name: 'Another step' }).click();
  await script.getByLabel('What step 2 says').fill('Where may we write to?');
  await script.getByLabel('What step 2 asks').selectOption('email');
  await script.getByLabel('Answer 1 of step 1', { exact: true }).fill('The date');
  await script.getByLabel('After answer 1 of step 1').selectOption('step-2');
  await script.getByLabel('After answer 2 of step 1').selectOption('it ends');
  await saved(page);
  expect((await flowOf(id))?.messages[1]).toMatchObject({
    sender: { name: 'Jorun' },
    conversation: {
      steps: [
        {
          says: 'Is anything in the way?',
          asks: {
            kind: 'choice',
            options: [
              { label: 'The date', then: 'step-2' },
              { label: 'No', then: 'end' },
            ],
          },
        },
        { id: 'step-2', says: 'Where may we write to?', asks: { kind: 'email' } },
      ],
    },
  });
});

test('how a message behaves is changed in its sentence; a taken name is refused; a message is pasted as JSON', async ({ page }) => {
  await signIn(page);
  const id = await newCampaign(page);
  await message(page, 'ask').getByRole('button', { name: 'Position' }).click();
  await page.getByRole('button', { name: 'at the bottom, where lines end' }).click();
  await message(page, 'ask').getByRole('button', { name: 'Entrance' }).click();
  await page.getByRole('button', { name: 'drops in' }).click();
  await message(page, 'ask').getByRole('button', { name: 'Ways to close' }).click();
  await page.getByLabel('Escape').uncheck();
  await page.keyboard.press('Escape');
  await expect(message(page, 'ask')).toContainText('Stands at the bottom, where lines end over a dim, drops in');
  await expect(message(page, 'ask')).toContainText('Closed by its × and a click beside it, at once.');
  await page.evaluate(() => {
    const data = new DataTransfer();
    data.setData('text', JSON.stringify({ id: 'ask', format: 'quiet', does: [{ kind: 'tag', tag: 'pasted' }] }));
    document.body.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true }));
  });
  await expect(message(page, 'ask-2')).toContainText('tags pasted');
  await page.getByRole('button', { name: 'Fit' }).click();
  const board = page.getByRole('group', { name: 'Storyboard' });
  expect(await board.evaluate((element) => element.scrollWidth <= element.clientWidth)).toBe(true);
  const name = page.getByLabel('Name of the message ask-2');
  await name.fill('ask');
  await name.press('Enter');
  await expect(page.getByText('There is a message ask already')).toBeVisible();
  await saved(page);
  expect((await flowOf(id))?.messages).toMatchObject([
    { id: 'ask', position: 'bottom end', entrance: 'drop', closes: { button: true, dim: true, escape: false } },
    { id: 'ask-2', does: [{ kind: 'tag', tag: 'pasted' }] },
  ]);
});

test('a campaign begins from a starting point, whose rule is counted on the visits of this site', async ({ page }) => {
  await signIn(page);
  await openStudio(page, '/campaigns');
  await page.getByRole('link', { name: 'Begin from …' }).click();
  await page.waitForURL('**/campaigns/begin');
  const points = page.getByRole('main').getByRole('listitem');
  await expect(points).toHaveCount(16);
  await expect(page.getByText(/^[\d,]+(–[\d,]+)? showings?$/)).toHaveCount(16);
  const point = points.filter({ has: page.getByRole('heading', { name: 'Yes or no, with second thoughts' }) });
  const foretold = Number((await point.getByText(/showings?$/).textContent())?.replace(/\D/g, ''));
  expect(foretold).toBeGreaterThan(0);
  expect(await faultsOf(page, { within: 'main' })).toEqual([]);
  await point.getByRole('button', { name: 'Begin with “Yes or no, with second thoughts”' }).click();
  await page.waitForURL(/\/campaigns\/camp_/);
  // What was foretold is what its rehearsal says.
  await expect(page.getByTestId('sure')).toContainText(String(foretold));
  await page.getByRole('tab', { name: 'Messages' }).click();
  await expect(page.getByRole('region', { name: /^Message / })).toHaveCount(3);
});

test('a value is put in where one writes, and the board is drawn for somebody who is known', async ({ page }) => {
  await signIn(page);
  const id = await newCampaign(page);
  const heading = page.getByRole('textbox', { name: 'Heading of ask' });
  await heading.fill('For you in , today');
  await heading.press('Home');
  for (let letters = 0; letters < 'For you in '.length; letters++) await heading.press('ArrowRight');
  await page.getByRole('button', { name: 'Put a value in: Heading' }).click();
  await page.getByRole('menuitem', { name: /^country/ }).click();
  await expect(heading).toHaveValue('For you in {country, or …}, today');
  await heading.fill('For you in {country, or the hills}, today');
  await expect(page.locator('[data-drawn=ask] h2')).toHaveText('For you in the hills, today');
  const known = (await (await page.request.get(`${STUDIO}/api/visitors/known`)).json()) as {
    id: number;
    name: string;
    values: { country?: string };
  }[];
  const somebody = known.find(({ values }) => values.country !== undefined);
  await page.getByLabel('Shown to').selectOption(String(somebody?.id));
  await expect(page.locator('[data-drawn=ask] h2')).toHaveText(`For you in ${somebody?.values.country}, today`);
  await saved(page);
  expect((await flowOf(id))?.messages[0]?.['blocks']).toEqual([{ kind: 'heading', text: 'For you in {country, or the hills}, today' }]);
});
