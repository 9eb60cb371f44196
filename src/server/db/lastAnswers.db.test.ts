import type { FreshDatabase } from '../testing/freshDatabase';
import { freshDatabase } from '../testing/freshDatabase';
import { keepAnswer, lastAnswer, segmentKey } from './lastAnswers';
import { insertSegment, updateSegment } from './segments';
import { createSite } from './sites';

let database: FreshDatabase;
beforeAll(async () => {
  database = await freshDatabase();
});
afterAll(() => database.drop());
const site = async (key: string) => (await createSite(database.pool, { key, name: 'Site', addresses: ['site.example'] })).id;

test('what a list said last takes the place of what it said before, for its own site and question', async () => {
  const [here, there] = [await site('heresite1'), await site('theresite1')];
  expect(await lastAnswer(database.pool, here, 'sizes')).toBeUndefined();
  await keepAnswer(database.pool, here, { question: 'sizes', answer: { 'seg_1 1': { people: 4, of: 9 } } });
  await keepAnswer(database.pool, here, { question: 'sizes', answer: { 'seg_1 1': { people: 5, of: 9 } } });
  expect(await lastAnswer(database.pool, here, 'sizes')).toEqual({ 'seg_1 1': { people: 5, of: 9 } });
  expect(await lastAnswer(database.pool, here, 'trends')).toBeUndefined();
  expect(await lastAnswer(database.pool, there, 'sizes')).toBeUndefined();
});

test('a segment that was changed has another key, so that no old number stands beside a new sentence', async () => {
  const siteId = await site('changing1');
  const made = await insertSegment(database.pool, {
    siteId,
    id: 'seg_1',
    name: 'Known',
    lookback: 30,
    people: { kind: 'known', is: true },
  });
  const changed = await updateSegment(database.pool, { ...made, siteId, people: { kind: 'known', is: false } });
  expect([segmentKey(made), segmentKey(changed)]).toEqual(['seg_1 1', 'seg_1 2']);
});
