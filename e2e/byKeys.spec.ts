import type { ElementHandle, Locator, Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import { flowOf, message, newCampaign, publish, saved } from './board';
import { ask, signIn, visit } from './stack';
import { newVisitor, popup } from './visitor';

/** Everything that was done: what was gone to and what was pressed or typed there. Going on by Tab is the way, not a deed. */
let deeds = 0;

/** To a control by Tab alone, forwards from where one is and on from the top of the page. */
async function goTo(page: Page, what: Locator): Promise<void> {
  await expect(what).toBeAttached();
  let there: ElementHandle | null = null;
  for (let presses = 0; presses < 250; presses++) {
    const is = await there?.evaluate((element) => (element.isConnected ? (element as Element).matches(':focus') : undefined));
    if (is) return;
    // What was drawn anew is another element by the same name.
    if (is === undefined && (await what.count()) > 0) there = await what.elementHandle();
    else await page.keyboard.press('Tab');
  }
  throw new Error(`Tab does not lead to ${what.toString()}`);
}

async function press(page: Page, what: Locator): Promise<void> {
  await goTo(page, what);
  await page.keyboard.press('Enter');
  deeds++;
}

async function write(page: Page, what: Locator, words: string): Promise<void> {
  await goTo(page, what);
  await page.keyboard.press('Control+a');
  await page.keyboard.type(words);
  deeds++;
}

/** Something from a list that has opened, by its first letters, as lists are. */
async function choose(page: Page, words: string): Promise<void> {
  await expect(page.getByRole('menuitem', { name: words, exact: true })).toBeVisible();
  await page.keyboard.type(words.slice(0, 4));
  await page.keyboard.press('Enter');
  deeds++;
}

test('yes or no, a form and a second thought that leads back to it, by keys alone in fewer than sixty steps', async ({ page, browser }) => {
  await signIn(page);
  const id = await newCampaign(page, { rule: { pages: { on: [{ op: 'like', value: '/no-such-page' }] }, moment: { kind: 'exit' } } });
  deeds = 0;
  const text = (name: string): Locator => page.getByRole('textbox', { name, exact: true });
  const does = (of: string, answer: string): Locator => message(page, of).getByRole('button', { name: `What “${answer}” does` });
  await write(page, text('Heading of ask'), 'Would half-price bunks change your plans?');
  await press(page, message(page, 'ask').getByRole('button', { name: 'Put something in at the end' }));
  await choose(page, 'Question');
  await write(page, text('Question of ask'), 'Well?');
  await write(page, text('Answer 1 of ask'), 'Yes, tell me');
  await write(page, text('Answer 2 of ask'), 'No, not this year');
  for (const [answer, name] of [
    ['Yes, tell me', 'leave-email'],
    ['No, not this year', 'second-thought'],
  ] as const) {
    await press(page, does('ask', answer));
    await press(page, page.getByRole('button', { name: 'Open a new pop-up' }));
    await page.keyboard.press('Escape');
    await write(page, page.getByLabel('Name of the message popup'), name);
    await page.keyboard.press('Enter');
    await expect(message(page, name)).toBeVisible();
  }
  await press(page, does('ask', 'Yes, tell me'));
  await press(page, page.getByRole('button', { name: 'Do more' }));
  await write(page, page.getByLabel('Tag', { exact: true }), 'wants-plan');
  await page.keyboard.press('Escape');
  await write(page, text('Heading of leave-email'), 'Then it pays from the third night');
  await press(page, message(page, 'leave-email').getByRole('button', { name: 'Put something in at the end' }));
  await choose(page, 'Form');
  await write(page, text('Heading of second-thought'), 'One thing before you go');
  await press(page, message(page, 'second-thought').getByRole('button', { name: 'Put something in at the end' }));
  await choose(page, 'Buttons');
  await write(page, text('Button 1 of second-thought'), 'Then perhaps');
  await press(page, does('second-thought', 'Then perhaps'));
  await goTo(page, page.getByLabel('Action 1', { exact: true }));
  await page.keyboard.type('Open a message');
  await goTo(page, page.getByLabel('Message to open'));
  await page.keyboard.type('leave');
  deeds += 2;
  await page.keyboard.press('Escape');
  await saved(page);
  expect(deeds).toBeLessThan(60);
  expect(await flowOf(id)).toMatchObject({
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
      { id: 'leave-email', blocks: [{}, {}, { kind: 'form' }] },
      { id: 'second-thought', blocks: [{}, {}, { buttons: [{ label: 'Then perhaps', does: [{ kind: 'message', id: 'leave-email' }] }] }] },
    ],
  });
  await publish(page, id, 'live');
  try {
    const { context, page: site } = await newVisitor(browser);
    await visit(site, '/contact');
    await site.evaluate((campaign) => (window as unknown as { crindle: { open: (id: string) => void } }).crindle.open(campaign), id);
    const heading = popup(site).getByRole('heading');
    for (const [button, then] of [
      ['No, not this year', 'One thing before you go'],
      ['Then perhaps', 'Then it pays from the third night'],
    ] as const) {
      await goTo(site, popup(site).getByRole('button', { name: button }));
      await site.keyboard.press('Enter');
      await expect(heading).toHaveText(then);
    }
    await goTo(site, popup(site).getByLabel('Your email'));
    await site.keyboard.type(`keys-${id}@post.example`);
    await site.keyboard.press('Enter');
    await expect(popup(site).getByText('Thank you.')).toBeVisible();
    await expect.poll(() => ask(`select email from lead where campaign_id = $1`, [id])).toEqual([{ email: `keys-${id}@post.example` }]);
    await context.close();
  } finally {
    await publish(page, id, 'draft');
  }
});
