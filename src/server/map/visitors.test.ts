import { countIn } from './visitors';

const spot = (lat: number, lon: number, people: number, accuracy: number | null = 10_000) => ({ lat, lon, people, accuracy });

test('people are counted where they are, and the exactness is that of half of them', () => {
  const spots = [spot(47.27, 11.39, 6, 5000), spot(48.14, 11.58, 3, 25_000), spot(0, 0, 1, null)];
  expect(countIn({ type: 'Circle', center: [11.39, 47.27], radius: 20_000 }, spots)).toEqual({ inside: 6, located: 10, accuracy: 5000 });
  expect(countIn({ type: 'Circle', center: [11.39, 47.27], radius: 200_000 }, spots).inside).toBe(9);
});

test('nobody anywhere', () => {
  expect(countIn({ type: 'Circle', center: [0, 0], radius: 1000 }, [])).toEqual({ inside: 0, located: 0, accuracy: null });
});
