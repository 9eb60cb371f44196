import type { RecordedVisit } from '@/server/db/visits';
import type { LiveNews } from '@/server/today/live';
import { afterSaid } from './useLive';

const visit = (id: string, channel = 'search'): RecordedVisit => ({
  id,
  channel,
  visitorId: 1,
  at: 0,
  device: null,
  language: null,
  city: null,
  country: null,
  isKnown: false,
  views: [],
  showings: [],
});
const news = (order: string[], changed: RecordedVisit[]): LiveNews => ({
  at: 5000,
  people: order.length,
  order,
  changed,
  pages: [],
  happenings: [],
});
const said = (order: string[], changed: RecordedVisit[]) => ({ kind: 'news' as const, news: news(order, changed), now: 4000 });

test('visits that did not change stay, changed ones are replaced, and who has left is gone', () => {
  const first = afterSaid({}, said(['a', 'b'], [visit('a'), visit('b')]));
  const second = afterSaid(first, said(['c', 'b'], [visit('c'), visit('b', 'email')]));
  expect(second.live?.visits.map(({ id, channel }) => [id, channel])).toEqual([
    ['c', 'search'],
    ['b', 'email'],
  ]);
  expect(second.live?.behind).toBe(1000);
});

test('trouble is told beside what was known, and is over with the next news', () => {
  const first = afterSaid({}, said(['a'], [visit('a')]));
  const troubled = afterSaid(first, { kind: 'trouble', message: 'away' });
  expect(troubled).toEqual({ live: first.live, trouble: 'away' });
  expect(afterSaid(troubled, said(['a'], [])).trouble).toBeUndefined();
  expect(afterSaid(troubled, said(['a'], [])).live?.visits).toHaveLength(1);
});
