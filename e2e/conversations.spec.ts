// A visitor and somebody of the team write to each other: over pages, with nobody there, handed over, put by and come back to.
import type { Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import sharp from 'sharp';
import { faultsOf } from './axe';
import { newCampaign, publish } from './board';
import { ask, openStudio, signIn, STUDIO, visit } from './stack';
import { newVisitor } from './visitor';

const chat = (page: Page) => page.locator('[data-crindle] .chat');
const said = (page: Page) => chat(page).locator('.log p');
const flow = (person: object) => ({
  start: 'chat',
  messages: [
    {
      id: 'chat',
      format: 'chat',
      colour: '#c8e6a0',
      sender: { name: 'Jorun', role: 'Warden' },
      conversation: {
        steps: [
          {
            id: 'what',
            says: 'Is anything in the way?',
            asks: {
              kind: 'choice',
              field: 'what',
              options: [
                { label: 'The date', then: 'bye' },
                { label: 'The price', then: 'bye' },
              ],
            },
          },
          { id: 'bye', says: 'Tell us more.', then: 'end' },
        ],
        person,
      },
    },
  ],
});

async function presence(page: Page, { isHere }: { isHere: boolean }): Promise<void> {
  const soon = Date.now() + 3_600_000;
  await ask(
    `update colleague set away_until = now() + interval '1 hour', here_until = null where member_id <> (select id from member where email = 'ines@tarnhollow.example')`,
  );
  const answer = await page.request.put(`${STUDIO}/api/people/presence`, {
    headers: { origin: STUDIO },
    data: { hereUntil: isHere ? soon : null, awayUntil: isHere ? null : soon },
  });
  expect(answer.ok()).toBe(true);
}

async function live(page: Page, person: object): Promise<string> {
  const campaign = await newCampaign(page, {
    goal: { kind: 'reply' },
    rule: { pages: { on: [{ op: 'is', value: '/contact' }] }, moment: { kind: 'open' }, pacing: { again: 'always' } },
    flow: flow(person),
  });
  await publish(page, campaign, 'live');
  return campaign;
}

async function write(page: Page, text: string): Promise<void> {
  await chat(page).getByLabel('Your message').fill(text);
  await page.keyboard.press('Enter');
  // It is not shown as sent before it is committed.
  await expect(said(page).filter({ hasText: text })).toBeVisible();
  await expect(said(page).filter({ hasText: text })).not.toHaveAttribute('data-unsent');
}

test('a visitor answers the script, writes to a person, is answered, goes to another page and on, and the reply counts', async ({
  page,
  browser,
}) => {
  await signIn(page);
  await presence(page, { isHere: true });
  const campaign = await live(page, { asksEmail: true });
  try {
    const shop = await newVisitor(browser);
    await visit(shop.page, '/contact');
    await chat(shop.page).getByRole('button', { name: 'The date' }).click();
    const question = `Is the road open? ${campaign}`;
    await write(shop.page, question);
    // Their own lines are in the colour of the brand, in an ink that can be read on it.
    const own = said(shop.page).filter({ hasText: question });
    await expect(own).toHaveCSS('background-color', 'rgb(200, 230, 160)');
    await expect(own).toHaveCSS('color', 'rgb(0, 0, 0)');
    expect(await faultsOf(shop.page)).toEqual([]);

    await openStudio(page, '/conversations');
    await expect(page.getByText(/^here now: .*Ines Rauch/)).toBeVisible();
    await page.getByRole('button').filter({ hasText: question }).click();
    const log = page.getByRole('log', { name: 'What was said' });
    // The script and its answer stand before what was written.
    await expect(log.getByRole('listitem').filter({ hasNotText: 'began this' }).filter({ hasNotText: 'has it' })).toContainText([
      'Is anything in the way?',
      'The date',
      'Tell us more.',
      question,
    ]);
    expect(await faultsOf(page)).toEqual([]);
    await page.getByLabel('a note for the team alone').check();
    await page.getByRole('textbox', { name: 'Note', exact: true }).fill('They asked before');
    await page.keyboard.press('Enter');
    await expect(log).toContainText('They asked before');
    await page.getByLabel('Your answer').fill('As far as the <b>bridge</b>.');
    await page.keyboard.press('Enter');
    await expect(said(shop.page).last()).toContainText('As far as the <b>bridge</b>.');
    await expect(chat(shop.page).locator('.who')).toContainText('Ines Rauch');
    await expect(chat(shop.page)).not.toContainText('They asked before');
    // What the visitor has seen is said to the team.
    await expect(log.getByText('· seen')).toBeVisible();

    await visit(shop.page, '/huts/upper-moss');
    await expect(said(shop.page).last()).toContainText('As far as the <b>bridge</b>.');
    await write(shop.page, 'And from there?');
    await expect(log).toContainText('And from there?');
    // With Shift, Enter is a line and sends nothing.
    const field = chat(shop.page).getByLabel('Your message');
    await field.fill('Up here');
    await shop.page.keyboard.press('Shift+Enter');
    await shop.page.keyboard.type('it snows.');
    await expect(field).toHaveValue('Up here\nit snows.');
    await shop.page.keyboard.press('Enter');
    await expect(field).toHaveValue('');
    await expect(log.getByText('it snows.')).toBeVisible();
    expect(await said(shop.page).last().innerText()).toBe('Up here\nit snows.');
    // Put by, it says how much is new.
    await chat(shop.page).getByRole('button', { name: 'Close' }).click();
    await page.getByLabel('Your answer').fill('An hour on foot.');
    await page.keyboard.press('Enter');
    await expect(chat(shop.page)).toContainText('1 new');
    await visit(shop.page, '/routes');
    await expect(chat(shop.page)).toContainText('1 new');
    await chat(shop.page).getByRole('button').first().click();
    await expect(said(shop.page).last()).toContainText('An hour on foot.');

    // Handed over, closed, and open again as soon as the visitor writes.
    await page.getByRole('button', { name: 'Whom it is with' }).click();
    await page.getByRole('button', { name: /^Jonas Weir/ }).click();
    await expect(log).toContainText('Ines Rauch handed it to Jonas Weir');
    await expect(chat(shop.page).locator('.who')).toContainText('Jonas Weir');
    await page.getByRole('button', { name: 'Close', exact: true }).click();
    await expect(chat(shop.page)).toContainText('This conversation is closed');
    await write(shop.page, 'One thing more');
    await expect(page.getByRole('button', { name: 'Close', exact: true })).toBeVisible();
    // The thread is found by a word of it.
    await page.getByLabel('Search in all that was written').fill('bridge');
    await expect(page.getByRole('list', { name: /Who waits/ }).getByRole('listitem')).toHaveCount(1);

    const [counted] = await ask<{ lines: number; numbers: number; replied: number }>(
      `select count(*)::int as lines, count(distinct seq)::int as numbers,
            (select count(*)::int from outcome join showing on showing.id = showing_id where campaign_id = $1 and kind = 'replied') as replied
       from line join thread on thread.id = thread_id where campaign_id = $1 and by in ('visitor', 'team', 'script')`,
      [campaign],
    );
    expect(counted).toEqual({ lines: 9, numbers: 9, replied: 1 });
    await shop.context.close();
  } finally {
    await publish(page, campaign, 'draft');
  }
  await openStudio(page, `/campaigns/${campaign}?tab=results`);
  await expect(page.getByRole('region', { name: 'The answer' })).toContainText('100.0 % reply');
});

test('where nobody is here it is said, and an email left is the conversation’s; offline, what is written arrives once, later', async ({
  page,
  browser,
}) => {
  await signIn(page);
  await presence(page, { isHere: false });
  const campaign = await live(page, { nobody: 'The hut phone rings in an empty room.', asksEmail: true });
  try {
    const shop = await newVisitor(browser);
    await visit(shop.page, '/contact');
    await chat(shop.page).getByRole('button', { name: 'The price' }).click();
    await write(shop.page, `What does it cost? ${campaign}`);
    await expect(chat(shop.page)).toContainText('The hut phone rings in an empty room.');
    const email = `asks-${campaign.toLowerCase().replace(/\W/g, '')}@post.example`;
    await chat(shop.page).getByLabel('Your email').fill('no address');
    await chat(shop.page).getByRole('button', { name: 'Leave it' }).click();
    await expect(chat(shop.page).getByRole('alert')).not.toBeEmpty();
    await chat(shop.page).getByLabel('Your email').fill(email);
    await chat(shop.page).getByRole('button', { name: 'Leave it' }).click();
    await expect(chat(shop.page)).toContainText('we write to you');
    expect(await faultsOf(shop.page)).toEqual([]);
    await openStudio(page, '/conversations');
    await expect(page.getByText(/^nobody is here now/)).toBeVisible();
    await page.getByRole('button').filter({ hasText: email }).click();
    await shop.context.setOffline(true);
    await chat(shop.page).getByLabel('Your message').fill('Written in a tunnel');
    await shop.page.keyboard.press('Enter');
    await expect(said(shop.page).last()).toHaveAttribute('data-unsent', '');
    await page.getByLabel('Your answer').fill('Forty a night.');
    await page.keyboard.press('Enter');
    await expect(page.getByRole('log', { name: 'What was said' })).toContainText('Forty a night.');
    await shop.context.setOffline(false);
    await expect(said(shop.page).filter({ hasText: 'Forty a night.' })).toBeVisible();
    await expect(page.getByRole('log', { name: 'What was said' })).toContainText('Written in a tunnel');
    await expect(said(shop.page).filter({ hasText: 'Written in a tunnel' })).not.toHaveAttribute('data-unsent');
    expect(
      await ask(
        `select count(*)::int as times from line join thread on thread.id = thread_id where campaign_id = $1 and text = 'Written in a tunnel'`,
        [campaign],
      ),
    ).toEqual([{ times: 1 }]);
    await shop.context.close();
  } finally {
    await publish(page, campaign, 'draft');
    await presence(page, { isHere: true });
  }
});

test('pictures go both ways, each sees that the other writes, the person has a face, and a closed conversation is mailed; it goes on though its campaign is over', async ({
  page,
  browser,
}) => {
  await signIn(page);
  await presence(page, { isHere: true });
  const drawing = await sharp({ create: { width: 60, height: 40, channels: 3, background: '#b5842b' } })
    .png()
    .toBuffer();
  const file = (name: string) => ({ name, mimeType: 'image/png', buffer: drawing });
  await openStudio(page, '/setup/people');
  const ines = page.getByRole('form', { name: 'Ines Rauch' });
  await ines.getByLabel(/picture$/).setInputFiles(file('ines.png'));
  await expect(ines.getByRole('button', { name: 'No picture' })).toBeVisible();
  await expect.poll(() => ines.locator('img').evaluate((image: HTMLImageElement) => image.naturalWidth)).toBe(60);
  expect(await faultsOf(page)).toEqual([]);
  const campaign = await live(page, { copy: true });
  try {
    const shop = await newVisitor(browser);
    await visit(shop.page, '/contact');
    await chat(shop.page).getByRole('button', { name: 'The date' }).click();
    const question = `What is this? ${campaign}`;
    await write(shop.page, question);
    await chat(shop.page)
      .getByLabel('Send a picture')
      .setInputFiles({ ...file('none.png'), buffer: Buffer.from('none') });
    await expect(chat(shop.page)).toContainText('not a picture that can be read');
    await chat(shop.page).getByLabel('Send a picture').setInputFiles(file('moss.png'));
    await expect
      .poll(() =>
        said(shop.page)
          .locator('img')
          .evaluate((image: HTMLImageElement) => image.naturalWidth),
      )
      .toBe(60);
    await openStudio(page, '/conversations');
    await page.getByRole('button').filter({ hasText: 'moss.png' }).first().click();
    const log = page.getByRole('log', { name: 'What was said' });
    await expect.poll(() => log.getByRole('img', { name: 'moss.png' }).evaluate((image: HTMLImageElement) => image.naturalWidth)).toBe(60);
    // Each sees that the other is writing, and not what.
    await chat(shop.page).getByLabel('Your message').pressSequentially('Well, ', { delay: 50 });
    await expect(page.getByText(/is writing …/)).toBeVisible();
    await expect(page.getByText(/is writing …/)).toBeHidden();
    await page.getByLabel('Your answer').fill('Sphagnum');
    await expect(chat(shop.page)).toContainText('Ines Rauch writes …');
    await page.getByLabel('A picture', { exact: true }).setInputFiles(file('map.png'));
    await expect(page.getByRole('img', { name: 'The picture that goes with it' })).toBeVisible();
    expect(await faultsOf(page)).toEqual([]);
    await page.getByRole('button', { name: 'Send', exact: true }).click();
    await expect(said(shop.page).last().getByRole('img', { name: 'Sphagnum' })).toBeVisible();
    await expect(chat(shop.page).locator('.head img')).toBeVisible();
    expect(await faultsOf(shop.page)).toEqual([]);
    // Though its campaign is over, whoever is in a conversation goes on with it.
    await publish(page, campaign, 'draft');
    await visit(shop.page, '/routes');
    await expect(said(shop.page).last().getByRole('img', { name: 'Sphagnum' })).toBeVisible();
    await write(shop.page, 'Still here');
    await openStudio(page, '/conversations');
    await page.getByRole('button').filter({ hasText: 'Still here' }).first().click();
    await page.getByRole('button', { name: 'Close', exact: true }).click();
    const email = `copy-${campaign.toLowerCase().replace(/\W/g, '')}@post.example`;
    await chat(shop.page).getByLabel('A copy to your email').fill(email);
    await chat(shop.page).getByRole('button', { name: 'Leave it' }).click();
    await expect(chat(shop.page)).toContainText('It is on its way.');
    await expect.poll(() => ask(`select copy_to as to from thread where campaign_id = $1`, [campaign])).toEqual([{ to: email }]);
    await shop.context.close();
  } finally {
    await publish(page, campaign, 'draft');
  }
});

test('who gets a campaign’s conversations is a sentence, and people have hours', async ({ page }) => {
  await signIn(page);
  const campaign = await newCampaign(page, { flow: flow({}) });
  const sentence = page.getByRole('group', { name: 'Who gets its conversations' });
  await sentence.getByRole('button', { name: 'How' }).click();
  await page.getByRole('button', { name: 'whoever has least' }).click();
  await sentence.getByRole('button', { name: 'Next' }).click();
  await page.getByRole('button', { name: 'after 10 minutes' }).click();
  await expect
    .poll(() => ask(`select answering from campaign where id = $1`, [campaign]))
    .toEqual([{ answering: { who: 'all', how: 'least', knows: true, next: 10 } }]);
  await openStudio(page, '/setup/people');
  const jonas = page.getByRole('form', { name: 'Jonas Weir' });
  await expect(jonas).toBeVisible();
  expect(await faultsOf(page)).toEqual([]);
  await jonas.getByLabel('Saturday').fill('22:00–02:00');
  await jonas.getByLabel('Monday').fill('nine to five');
  await jonas.getByRole('button', { name: 'Save' }).click();
  await expect(jonas.getByRole('alert')).toContainText(/week\.1/);
  await jonas.getByLabel('Monday').fill('09:00–12:00, 13:00–17:00');
  await jonas.getByRole('button', { name: 'Save' }).click();
  await expect
    .poll(() =>
      ask(`select hours -> 'week' -> '6' as saturday from colleague join member on member.id = member_id where name = 'Jonas Weir'`),
    )
    .toEqual([{ saturday: [['22:00', '02:00']] }]);
  // A calendar that was brought as a file can be taken out again.
  const busy = page.getByRole('group', { name: 'Busy elsewhere' }).first();
  const kept = () => ask(`select count(*)::int as kept from colleague where calendar_text is not null`);
  await busy.locator('input[type=file]').setInputFiles({
    name: 'busy.ics',
    mimeType: 'text/calendar',
    buffer: Buffer.from('BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\nEND:VCALENDAR\r\n'),
  });
  await expect.poll(kept).toEqual([{ kept: 1 }]);
  await busy.getByRole('button', { name: 'Take the calendar out' }).click();
  await expect.poll(kept).toEqual([{ kept: 0 }]);
  await expect(busy.getByRole('button', { name: 'Take the calendar out' })).toHaveCount(0);
});

test('a long list is shown further, up to all of them', async ({ page }) => {
  await signIn(page);
  await openStudio(page, '/conversations');
  await page.getByRole('button', { name: 'closed' }).click();
  // Old ones, so that they stand behind all others.
  await ask(
    `insert into thread (site_id, id, visitor_id, campaign_id, showing_id, view_id, begun_at, state, asked_at, last_at, last_text, tags)
     select site_id, gen_random_uuid(), id, 'none', gen_random_uuid(), gen_random_uuid(), now() - interval '300 days', 'closed', now() - interval '300 days',
            now() - interval '300 days' - n * interval '1 second', 'Old question ' || n, '{long}'
       from generate_series(1, 205) as n, (select site_id, id from visitor order by site_id, id limit 1) as who`,
  );
  try {
    await page.reload();
    await page.getByRole('button', { name: 'closed' }).click();
    const list = page.getByRole('list', { name: /Who waits/ }).getByRole('listitem');
    await expect(list).toHaveCount(200);
    await page.getByRole('button', { name: 'Show more' }).click();
    await expect(list.last()).toContainText('Old question 205');
    await expect(page.getByRole('button', { name: 'Show more' })).toHaveCount(0);
    // On a phone there is the list, or what was chosen in it.
    await page.setViewportSize({ width: 390, height: 844 });
    await list.last().getByRole('button').click();
    await expect(page.getByRole('log', { name: 'What was said' })).toBeVisible();
    await expect(list.first()).toBeHidden();
    await page.getByRole('link', { name: 'All conversations' }).click();
    await expect(list.first()).toBeVisible();
    await expect(page.getByRole('log', { name: 'What was said' })).toHaveCount(0);
  } finally {
    await ask(`delete from thread where tags = '{long}'`);
  }
});

test('an answer that was not sent stays with its conversation, over others and over a reload, until it is sent', async ({ page }) => {
  await signIn(page);
  await ask(
    `insert into thread (site_id, id, visitor_id, campaign_id, showing_id, view_id, begun_at, state, asked_at, last_at, last_text, tags)
     select site_id, gen_random_uuid(), id, 'none', gen_random_uuid(), gen_random_uuid(), now(), 'open', now(), now(), 'Draft question ' || n, '{draft}'
       from generate_series(1, 2) as n, (select site_id, id from visitor order by site_id, id limit 1) as who`,
  );
  try {
    await openStudio(page, '/conversations');
    const list = page.getByRole('list', { name: /Who waits/ }).getByRole('listitem');
    const open = (nth: number) =>
      list
        .filter({ hasText: `Draft question ${nth}` })
        .getByRole('button')
        .click();
    const answer = page.getByRole('textbox', { name: 'Your answer' });
    await open(1);
    await answer.fill('The hut is open from June');
    await open(2);
    await expect(answer).toHaveValue('');
    await answer.fill('We are twelve');
    await open(1);
    await expect(answer).toHaveValue('The hut is open from June');
    await page.reload();
    await open(2);
    await expect(answer).toHaveValue('We are twelve');
    await open(1);
    // What stands there is what is sent.
    await expect(answer).toHaveValue('The hut is open from June');
    await page.getByRole('button', { name: 'Send', exact: true }).click();
    await expect(page.getByRole('log', { name: 'What was said' })).toContainText('The hut is open from June');
    await expect(answer).toHaveValue('');
    await page.reload();
    // Now it stands in the list by what was said last.
    await list.filter({ hasText: 'The hut is open from June' }).getByRole('button').click();
    await expect(answer).toHaveValue('');
  } finally {
    await ask(`delete from thread where tags = '{draft}'`);
  }
});
