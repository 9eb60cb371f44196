// Large requests to the studio arrive whole, and its answers say what may be done with them.
import { expect, test } from '@playwright/test';
import { signIn, STUDIO } from './stack';

test('a site document of 60 MB, in pieces without a length, arrives whole; answers of the API are no pages', async ({ page }) => {
  await signIn(page);
  const exported = await page.request.get(`${STUDIO}/site.json`);
  const { pictures: _pictures, campaigns: _campaigns, ...rest } = (await exported.json()) as Record<string, unknown>;
  // Cut off anywhere it would be no JSON.
  const text = JSON.stringify({ ...rest, pictures: [], campaigns: [], segments: [], pageSets: [], places: [], goals: [] });
  const [blank, end] = [Buffer.alloc(1024 * 1024, ' '), text.lastIndexOf('}')];
  const cookie = (await page.context().cookies(STUDIO)).map(({ name, value }) => `${name}=${value}`).join('; ');
  const send = (megabytes: number) =>
    fetch(`${STUDIO}/api/site/import`, {
      method: 'POST',
      headers: { cookie, origin: STUDIO, 'content-type': 'application/json' },
      body: new ReadableStream({
        start(controller) {
          controller.enqueue(Buffer.from(text.slice(0, end)));
          for (let nth = 0; nth < megabytes; nth++) controller.enqueue(blank);
          controller.enqueue(Buffer.from(text.slice(end)));
          controller.close();
        },
      }),
      duplex: 'half',
    } as RequestInit);
  const answer = await send(60);
  expect([answer.status, await answer.json()]).toMatchObject([200, { campaigns: 0 }]);
  expect(Object.fromEntries(answer.headers)).toMatchObject({
    'content-security-policy': "default-src 'none'; frame-ancestors 'none'; base-uri 'none'; form-action 'none'",
    'cross-origin-resource-policy': 'same-origin',
    'x-content-type-options': 'nosniff',
  });
  expect((await send(201)).status).toBe(413);
});
