import { openLocations } from './locate';

test('a public address has its country; private, unknown and broken ones have none', async () => {
  const locate = await openLocations(undefined);
  expect(locate('193.171.0.1')).toEqual({ country: 'AT' });
  expect(locate('127.0.0.1')).toBeUndefined();
  expect(locate('10.1.2.3')).toBeUndefined();
  expect(locate('not an address')).toBeUndefined();
});

test('a table of cities that is named and not there is told', async () => {
  await expect(openLocations('/nowhere/cities.mmdb')).rejects.toThrow('/nowhere/cities.mmdb is not there');
});
