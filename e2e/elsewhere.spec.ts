// A campaign goes to another site of the same person, with what it names.
import { expect, test } from '@playwright/test';
import { ask, openStudio, signIn, STUDIO } from './stack';

test('a campaign is copied to another site from its menu: it is a draft there, with the segments and page sets that it names', async ({
  page,
}) => {
  await signIn(page);
  const [home] = await ask<{ id: number }>(`select id from site where key like 'tarnhollow%'`);
  const [member] = await ask<{ id: number }>(`select id from member where email = 'ines@tarnhollow.example'`);
  const name = `Ridge lodges ${Date.now()}`;
  const [other] = await ask<{ id: number }>(
    `insert into site (key, name, addresses) values ('ridgelodges' || floor(random() * 1e9)::text, $1, '{}') returning id`,
    [name],
  );
  try {
    await ask(`insert into membership (site_id, member_id, role) values ($1, $2, 'editor')`, [other?.id, member?.id]);
    const [campaign] = await ask<{ id: string; name: string; segment: string }>(
      `select campaign.id, campaign.name, segment.name as segment from campaign
         join segment on segment.site_id = campaign.site_id and campaign.rule::text like '%"' || segment.id || '"%' where campaign.site_id = $1 limit 1`,
      [home?.id],
    );
    await openStudio(page, '/campaigns');
    await page.getByRole('button', { name: `Actions for ${campaign?.name}`, exact: true }).click();
    await page.getByRole('menuitem', { name: `Copy to ${name}` }).click();
    await expect(page.getByText(`“${campaign?.name}” is a draft at ${name} now`)).toBeVisible();
    expect(await ask(`select name, status from campaign where site_id = $1`, [other?.id])).toEqual([
      { name: campaign?.name, status: 'draft' },
    ]);
    const segments = await ask<{ id: string; name: string }>(`select id, name from segment where site_id = $1`, [other?.id]);
    expect(segments.map((one) => one.name)).toContain(campaign?.segment);
    // Its rule names the segment that came along, not the one at home.
    const [there] = await ask<{ rule: object }>(`select rule from campaign where site_id = $1`, [other?.id]);
    expect(JSON.stringify(there?.rule)).toContain(segments.find((one) => one.name === campaign?.segment)?.id);
    // Where somebody may not edit nothing is copied to.
    await ask(`update membership set role = 'viewer' where site_id = $1`, [other?.id]);
    const refused = await page.request.post(`${STUDIO}/api/campaigns/${campaign?.id}/copies/elsewhere`, {
      headers: { origin: STUDIO },
      data: { site: other?.id },
    });
    expect(refused.status()).toBe(404);
  } finally {
    await ask(`delete from site where id = $1`, [other?.id]);
  }
});

test('what is kept at another site of somebody’s is begun from here, with the segment that it names', async ({ page }) => {
  await signIn(page);
  const [home] = await ask<{ id: number }>(`select id from site where key like 'tarnhollow%'`);
  const [member] = await ask<{ id: number }>(`select id from member where email = 'ines@tarnhollow.example'`);
  const name = `Moor inns ${Date.now()}`;
  const [other] = await ask<{ id: number }>(
    `insert into site (key, name, addresses) values ('moorinns' || floor(random() * 1e9)::text, $1, '{}') returning id`,
    [name],
  );
  const kept = `Kept ${Date.now()}`;
  try {
    await ask(`insert into membership (site_id, member_id, role) values ($1, $2, 'viewer')`, [other?.id, member?.id]);
    await ask(`insert into segment (site_id, id, name, lookback, people) values ($1, 'seg_inn', $2, 30, '{"kind": "known", "is": true}')`, [
      other?.id,
      `Inn guests ${kept}`,
    ]);
    const document = {
      name: kept,
      goal: { kind: 'form' },
      rule: { people: { kind: 'segment', id: 'seg_inn' }, moment: { kind: 'exit' } },
      flow: {
        start: 'ask',
        messages: [
          { id: 'ask', format: 'popup', closes: { button: true, dim: true, escape: true }, blocks: [{ kind: 'heading', text: 'Inns' }] },
        ],
      },
    };
    await ask(`insert into starting_point (site_id, id, name, use, document) values ($1, 'start_inn', $2, 'For guests of inns', $3)`, [
      other?.id,
      kept,
      JSON.stringify(document),
    ]);
    await openStudio(page, '/campaigns/begin');
    const section = page.getByRole('region', { name: `Kept at ${name}` });
    await expect(section.getByText(`are in “Inn guests ${kept}”`)).toBeVisible();
    await section.getByRole('button', { name: `Begin with “${kept}”` }).click();
    await page.waitForURL(/\/campaigns\/camp_/);
    const [made] = await ask<{ status: string; rule: { people: { id: string } } }>(
      `select status, rule from campaign where site_id = $1 and name = $2`,
      [home?.id, kept],
    );
    expect(made?.status).toBe('draft');
    expect(await ask(`select name from segment where site_id = $1 and id = $2`, [home?.id, made?.rule.people.id])).toEqual([
      { name: `Inn guests ${kept}` },
    ]);
    // Whoever is not of that site begins nothing from there.
    await ask(`delete from membership where site_id = $1`, [other?.id]);
    const refused = await page.request.post(`${STUDIO}/api/starting-points/begun`, {
      headers: { origin: STUDIO },
      data: { site: other?.id, point: 'start_inn' },
    });
    expect(refused.status()).toBe(404);
  } finally {
    await ask(`delete from campaign where site_id = $1 and name = $2`, [home?.id, kept]);
    await ask(`delete from segment where name = $1`, [`Inn guests ${kept}`]);
    await ask(`delete from site where id = $1`, [other?.id]);
  }
});
