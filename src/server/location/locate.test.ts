import { openLocations } from './locate';

test('a public address has its country; private, unknown and broken ones have none', async () => {
  const locate = await openLocations(undefined);
  expect(await locate('193.171.0.1')).toEqual({ country: 'AT' });
  expect(await locate('127.0.0.1')).toBeUndefined();
  expect(await locate('10.1.2.3')).toBeUndefined();
  expect(await locate('not an address')).toBeUndefined();
});

test('a table of cities that is named and not there is told', async () => {
  await expect(openLocations('/nowhere/cities.mmdb')).rejects.toThrow('/nowhere/cities.mmdb is not there');
});
