// The script on a page of one's own: another site, and what is said of an address.
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import type { Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import { publishAllTheSame } from './board';
import { ask, COLLECTOR, openStudio, signIn, SITE, STUDIO } from './stack';
import { newVisitor, popup } from './visitor';

/** A page somebody wrote, on a server of its own. */
async function ownPage(): Promise<{ origin: string; set: (html: string) => void; close: () => void }> {
  let html = '<!doctype html><title>Mine</title><h1>Mine</h1>';
  const server = createServer((_request, response) => response.writeHead(200, { 'content-type': 'text/html' }).end(html));
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  return {
    origin: `http://127.0.0.1:${(server.address() as AddressInfo).port}`,
    set: (next) => (html = next),
    close: () => {
      server.closeAllConnections();
      server.close();
    },
  };
}

const look = async (page: Page, url: string): Promise<void> => {
  await page.getByLabel('Look at an address').getByRole('textbox').fill(url);
  await page.getByRole('button', { name: 'Look', exact: true }).click();
};

test('another site is made, its line put on a page of one’s own, seen, and a first message shown there', async ({ page, browser }) => {
  const mine = await ownPage();
  await signIn(page);
  await openStudio(page, '/setup/sites');
  await page.getByLabel('Name', { exact: true }).fill('My own page');
  await page.getByLabel('Address', { exact: true }).fill(`${mine.origin}/`);
  await page.getByRole('button', { name: 'Make the site' }).click();
  await page.waitForURL('**/setup');
  try {
    await expect(page.getByText('Not seen yet.')).toBeVisible();
    await expect(page.getByText('script not seen yet')).toBeVisible();
    const line = await page.getByRole('region', { name: 'The line to put on the site' }).locator('pre').first().innerText();
    mine.set(`<!doctype html><title>Mine</title><head>${line}</head><h1>Mine</h1>`);
    await page.getByRole('button', { name: 'Try this line' }).click();
    await expect(page.getByText('Watching …')).toBeVisible();
    const { context, page: visitor } = await newVisitor(browser);
    await visitor.goto(mine.origin);
    await expect(page.getByText('Seen on /.')).toBeVisible();
    // The head of the studio says the same, without being loaded anew.
    await expect(page.getByText('script not seen yet')).toBeHidden();
    await context.close();
    // A first message.
    const made = await page.request.post(`${STUDIO}/api/campaigns`, {
      headers: { origin: STUDIO },
      data: {
        name: 'Hello',
        goal: { kind: 'form' },
        rule: { moment: { kind: 'delay', seconds: 0 } },
        flow: {
          start: 'a',
          messages: [
            { id: 'a', format: 'popup', closes: { button: true, dim: true, escape: true }, blocks: [{ kind: 'heading', text: 'Hello' }] },
          ],
        },
      },
    });
    const { id } = (await made.json()) as { id: string };
    await openStudio(page, `/campaigns/${id}`);
    await page.getByRole('switch', { name: 'Part of the next release' }).click();
    await page.getByRole('button', { name: 'Publish release 1' }).click();
    await publishAllTheSame(page.getByRole('dialog'));
    await expect(page.getByText('Release 1 is live')).toBeVisible();
    const again = await newVisitor(browser);
    await again.page.goto(mine.origin);
    await expect(popup(again.page).getByRole('heading', { name: 'Hello' })).toBeVisible();
    await again.context.close();
    // And back to the other one.
    await page.getByRole('button', { name: 'Ines Rauch, account' }).click();
    await page.getByRole('menuitem', { name: 'Go to Tarnhollow Huts' }).click();
    await page.waitForURL('**/today');
    await expect(page.getByRole('banner').getByText('Tarnhollow Huts')).toBeVisible();
    // Nobody chooses a site that is not theirs.
    const [{ id: foreign = 0 } = {}] = await ask<{ id: number }>(
      `insert into site (key, name, addresses) values ('foreignsite1', 'Foreign', '{}') returning id`,
    );
    const refused = await page.request.post(`${STUDIO}/api/sites/${foreign}`, { headers: { origin: STUDIO } });
    expect(refused.status()).toBe(404);
  } finally {
    await ask(`delete from site where name in ('My own page', 'Foreign')`);
    mine.close();
  }
});

test('an address is looked at: there, twice, missing, under a policy, and nothing inside the network', async ({ page }) => {
  await signIn(page);
  await openStudio(page, '/setup');
  const found = page.getByRole('list', { name: 'What was found' });
  await look(page, `${SITE}/huts`);
  await expect(found).toContainText('The line stands in the');
  await look(page, `${COLLECTOR}/health`);
  await expect(found).toContainText('no HTML page');
  await look(page, `${SITE}/nothing-here-at-all`);
  await expect(found).toContainText('answered 404');
  for (const [url, says] of [
    ['http://10.1.2.3/', /in a private network/],
    ['http://127.0.0.1:5432/', /not looked at|private network/],
    ['gopher://example.com/', /expected https or http/],
  ] as const) {
    await look(page, url);
    await expect(page.getByRole('alert').filter({ hasText: says })).toBeVisible();
  }
});

test('each way of putting it in has its line, and a browser tells what a policy kept away', async ({ page, browser }) => {
  await signIn(page);
  await openStudio(page, '/setup');
  const line = page.getByRole('region', { name: 'The line to put on the site' }).locator('pre').first();
  const way = page.getByRole('combobox', { name: 'It goes' });
  await way.selectOption('stub');
  await expect(line).toContainText('crindle={q:[]}');
  await way.selectOption('singlePage');
  await page.getByLabel(/Event by which the site tells/).fill('app:page');
  await expect(line).toContainText('data-page-event="app:page"');
  await way.selectOption('own');
  await page.getByLabel('Address under which the site passes requests on').fill(COLLECTOR);
  await page.getByRole('button', { name: 'Try this line' }).click();
  await expect(page.getByText('The script is there, as it is now.')).toBeVisible();
  // The line that makes its own element works as the plain one does.
  await way.selectOption('tool');
  const made = await line.innerText();
  const { context, page: host } = await newVisitor(browser);
  await context.route(`${SITE}/by-tool`, (route) =>
    route.fulfill({ contentType: 'text/html', body: `<!doctype html><title>T</title>${made}` }),
  );
  const told = host.waitForResponse((response) => response.url() === `${COLLECTOR}/c` && response.ok());
  await host.goto(`${SITE}/by-tool`);
  await told;
  // A page whose policy lacks the collector: the browser says so where the policy names it.
  await way.selectOption('policy');
  await page.getByRole('button', { name: 'Try this line' }).click();
  await expect(page.getByText('Watching …')).toBeVisible();
  await context.route(`${SITE}/kept-away`, (route) =>
    route.fulfill({
      contentType: 'text/html',
      headers: { 'content-security-policy': `script-src 'self'; report-uri ${COLLECTOR}/csp/tarnhollowdemo` },
      body: `<!doctype html><title>K</title><script src="${COLLECTOR}/page.js" data-site="tarnhollowdemo" async></script>`,
    }),
  );
  await host.goto(`${SITE}/kept-away`);
  await expect(page.getByText('A browser kept it away: script-src-elem on /kept-away.')).toBeVisible();
  // An older script out of a cache asks for parts that are gone.
  await host.goto(`${SITE}/contact`);
  await host.evaluate((url) => import(url).catch(() => undefined), `${COLLECTOR}/parts/decide-123456789.js`);
  await expect(page.getByText(/An older script out of a cache was met/)).toBeVisible();
  await context.close();
});
