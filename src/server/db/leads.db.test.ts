import type { FreshDatabase } from '../testing/freshDatabase';
import { freshDatabase } from '../testing/freshDatabase';
import type { LeadTerm } from '@/core/leads/filter';
import { stringify } from 'csv-stringify/sync';
import { parse } from 'papaparse';
import { leadColumns, leadLine } from '../exchange/leads';
import { harmless } from '../http/downloads';
import type { Lead } from './leads';
import { countLeads, eachLead, eraseLeads, findLead, leadVocabulary, listLeads, setLeadNotes, tagLeads } from './leads';
import { createSite } from './sites';

let database: FreshDatabase;
let siteId: number;
const LEADS = 1_203;

beforeAll(async () => {
  database = await freshDatabase();
  const site = (key: string) => createSite(database.pool, { key, name: key, addresses: [`${key}.example`] });
  siteId = (await site('sitekey123')).id;
  const other = (await site('otherkey123')).id;
  // Several leads of one instant, so that a page ends among equals.
  for (const [id, count] of [
    [siteId, LEADS],
    [other, 7],
  ])
    await database.pool.query(
      `insert into lead (site_id, id, campaign_id, at, email, url)
       select $1, gen_random_uuid(), 'c', timestamptz '2026-11-26T10:00Z' - (n / 10) * interval '1 minute', 'reader' || n || '@post.example', 'https://refuge.example/'
         from generate_series(1, $2::int) n`,
      [id, count],
    );
});
afterAll(() => database.drop());

test('leads are counted in full, and in what a search finds', async () => {
  expect(await countLeads(database.pool, siteId)).toBe(LEADS);
  expect(await countLeads(database.pool, siteId, [{ kind: 'text', value: 'READER120' }])).toBe(5); // 120 and 1200 to 1203
});

test('the pages of leads hold each once, in order, whatever a page holds', async () => {
  const ids: string[] = [];
  const instants: number[] = [];
  for await (const { id, at } of eachLead(database.pool, siteId, { pageOf: 97 })) {
    ids.push(id);
    instants.push(at.getTime());
  }
  expect(new Set(ids).size).toBe(LEADS);
  expect(ids).toHaveLength(LEADS);
  expect(instants).toEqual([...instants].sort((a, b) => b - a));
});

test('a page after a lead that is not there, or of another site, is empty', async () => {
  expect(await listLeads(database.pool, siteId, { after: "'; drop table lead; --" })).toEqual([]);
  const [foreign] = await listLeads(database.pool, siteId + 1, { limit: 1 });
  expect(foreign).toBeDefined();
  expect(await listLeads(database.pool, siteId, { after: foreign?.id })).toEqual([]);
});

describe('one lead and several', () => {
  const ids: string[] = [];
  beforeAll(async () => {
    for (const [email, campaign, url, fields, consent] of [
      [
        'Anna@post.example',
        'c1',
        'https://refuge.example/huts/moss?x=1#y',
        { plan: 'A family', nights: 3 },
        [{ name: 'letters', words: 'You may write' }],
      ],
      ['anna@post.example', 'c2', 'https://refuge.example/huts', { plan: 'Just me' }, []],
      [null, 'c1', 'https://refuge.example/journal/a/b', { note: '=1+1', email_backup: 'x' }, []],
    ] as const) {
      const { rows } = await database.pool.query<{ id: string }>(
        `insert into lead (site_id, id, campaign_id, at, email, url, fields, consent)
         values ($1, gen_random_uuid(), $2, timestamptz '2026-11-27T10:00Z' + $3::int * interval '1 minute', $4, $5, $6, $7) returning id`,
        [siteId, campaign, ids.length, email, url, fields, JSON.stringify(consent)],
      );
      ids.push(rows[0]?.id ?? '');
    }
  });
  const found = async (...terms: LeadTerm[]) =>
    (await listLeads(database.pool, siteId, { terms, limit: 10 })).map(({ id }) => ids.indexOf(id)).sort();

  test('every kind of term finds what it says, and all of several have to hold', async () => {
    expect(await found({ kind: 'page', value: '/huts/**' })).toEqual([0, 1]);
    expect(await found({ kind: 'page', value: '/huts/*' })).toEqual([0]);
    expect(await found({ kind: 'answer', value: 'Plan=family' })).toEqual([0]);
    expect(await found({ kind: 'answer', value: 'nights=3' })).toEqual([0]);
    expect(await found({ kind: 'consent', value: 'yes' })).toEqual([0]);
    expect(await found({ kind: 'text', value: 'JUST me' })).toEqual([1]);
    // What stands for others in a pattern stands for itself in words.
    for (const value of ['%', 'j_st', 'just\\', '*']) expect([value, await found({ kind: 'text', value })]).toEqual([value, []]);
    expect(await found({ kind: 'answer', value: 'plan=%' })).toEqual([]);
    expect(await found({ kind: 'campaign', value: 'c1' }, { kind: 'page', value: '/journal/**' })).toEqual([2]);
    expect(await found({ kind: 'page', value: "/');drop table lead;--" })).toEqual([]);
    expect(await countLeads(database.pool, siteId, [{ kind: 'campaign', value: 'c1' }])).toBe(2);
  });

  test('leads are tagged together, once each, and found by the tag; notes are kept; another site’s stay untouched', async () => {
    const [foreign] = await listLeads(database.pool, siteId + 1, { limit: 1 });
    const all = [ids[0] as string, ids[1] as string, foreign?.id as string];
    expect(await tagLeads(database.pool, siteId, { ids: all, tag: 'warm' })).toBe(2);
    expect(await tagLeads(database.pool, siteId, { ids: all, tag: 'warm' })).toBe(0);
    expect(await found({ kind: 'tag', value: 'warm' })).toEqual([0, 1]);
    expect(await setLeadNotes(database.pool, siteId, { id: ids[0] as string, note: 'Rang on Friday' })).toBe(true);
    expect(await setLeadNotes(database.pool, siteId, { id: foreign?.id as string, note: 'x' })).toBe(false);
    expect(await setLeadNotes(database.pool, siteId, { id: "' or true --", note: 'x' })).toBe(false);
    expect(await found({ kind: 'text', value: 'friday' })).toEqual([0]);
    const lead = await findLead(database.pool, siteId, ids[0] as string);
    expect(lead).toMatchObject({ tags: ['warm'], note: 'Rang on Friday', shown: null, consent: [{ words: 'You may write' }] });
    // Whatever the case of the email.
    expect(lead?.others.map(({ id }) => id)).toEqual([ids[1]]);
    expect(await leadVocabulary(database.pool, siteId)).toEqual({ tags: ['warm'], answers: ['plan', 'email_backup', 'nights', 'note'] });
    expect(await findLead(database.pool, siteId + 1, ids[0] as string)).toBeUndefined();
  });

  test('a table has a column for each answer, and what begins like a formula is none', async () => {
    const leads = await listLeads(database.pool, siteId, { terms: [{ kind: 'campaign', value: 'c1' }] });
    const columns = leadColumns(['plan', 'note', 'email', 'nights']);
    expect(columns.map(({ name }) => name)).toEqual([
      'at',
      'email',
      'campaign',
      'page',
      'visitor',
      'agreed',
      'withdrawn',
      'tags',
      'note',
      'plan',
      'answer note',
      'nights',
    ]);
    const csv = stringify(
      leads.map((lead) => columns.map(({ of }) => harmless(of(lead)))),
      { record_delimiter: 'windows' },
    );
    // Read again by another parser.
    const rows = parse<string[]>(csv).data.slice(0, 2);
    expect(rows.map((row) => [row[1], row[5], row[9], row[10], row[11]])).toEqual([
      ['', '', '', "'=1+1", ''],
      ['Anna@post.example', 'You may write', 'A family', '', '3'],
    ]);
    expect(JSON.parse(leadLine(leads[1] as Lead))).toMatchObject({
      fields: { plan: 'A family', nights: 3 },
      campaign: { id: 'c1', name: null },
    });
  });

  test('what is erased is gone, of this site alone', async () => {
    const [foreign] = await listLeads(database.pool, siteId + 1, { limit: 1 });
    expect(await eraseLeads(database.pool, siteId, [ids[2] as string, foreign?.id as string])).toBe(1);
    expect(await findLead(database.pool, siteId, ids[2] as string)).toBeUndefined();
    expect(await countLeads(database.pool, siteId + 1)).toBe(7);
  });
});
