import { offerFromHit, offersFor } from './actions';

test('areas and actions are found by any of their words, in any order', () => {
  expect(offersFor('seg').map(({ id }) => id)).toEqual(['/segments']);
  expect(offersFor('privacy').map(({ id }) => id)).toEqual(['/setup']);
  expect(offersFor('colours dark').map(({ id }) => id)).toEqual(['dark']);
  expect(offersFor('theme')).toHaveLength(3);
  expect(offersFor('zzz')).toEqual([]);
  expect(offersFor('  ').length).toBeGreaterThan(8);
});

test('what is found leads to where it is', () => {
  const to = (kind: Parameters<typeof offerFromHit>[0]['kind'], id: string, name = id) => offerFromHit({ kind, id, name, note: '' }).does;
  expect(to('segment', 'seg_a')).toEqual({ href: '/segments/seg_a' });
  expect(to('visitor', '12')).toEqual({ href: '/visitors/12' });
  expect(to('page', '/a b/**')).toEqual({ href: '/visits?page=%2Fa%20b%2F**' });
  expect(to('lead', 'x', 'a+b@c.example')).toEqual({ href: '/leads?q=a%2Bb%40c.example' });
});
