import { searchTowns, townsWithin } from './towns';

test('towns are found by how they begin, without accents and case, the largest first', () => {
  expect(searchTowns('zuri')[0]).toMatchObject({ name: 'Zürich', country: 'CH' });
  expect(searchTowns('PARIS')[0]).toMatchObject({ name: 'Paris', country: 'FR' });
  expect(searchTowns('innsbruck')[0]?.lat).toBeCloseTo(47.26, 1);
  expect(searchTowns('qqqqq')).toEqual([]);
});

test('the largest towns in sight, on both sides of the date line too', () => {
  const alps = townsWithin({ west: 8, south: 46, east: 13, north: 49 }, 3);
  expect(alps.map(({ name }) => name)).toContain('Munich');
  expect(alps.every(({ lon, lat }) => lon >= 8 && lon <= 13 && lat >= 46 && lat <= 49)).toBe(true);
  const pacific = townsWithin({ west: 177, south: -20, east: 190, north: -13 });
  expect(pacific.some(({ lon }) => lon > 170)).toBe(true);
  expect(pacific.some(({ lon }) => lon < -170)).toBe(true);
});
