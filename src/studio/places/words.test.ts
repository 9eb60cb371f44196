import type { PlaceShape } from '@/core/geo/place';
import { exactnessWarning, shapeWords } from './words';

const circle = (radius: number): PlaceShape => ({ type: 'Circle', center: [-11.4, 47.27], radius });
const square: [number, number][] = [
  [0, 0],
  [1, 0],
  [1, 1],
  [0, 0],
];

test('shapes in words', () => {
  expect(shapeWords(circle(2500))).toBe('a circle of 2.5 km around 47.27° N, 11.40° W');
  expect(shapeWords(circle(30_000))).toBe('a circle of 30 km around 47.27° N, 11.40° W');
  expect(shapeWords({ type: 'Polygon', coordinates: [square, square] })).toBe('an area of 3 corners with a hole');
  expect(shapeWords({ type: 'MultiPolygon', coordinates: [[square], [square]] })).toBe('2 areas');
});

test('a place smaller than the location is exact is warned of', () => {
  expect(exactnessWarning(circle(3000), 25_000)).toContain('25 km');
  expect(exactnessWarning(circle(25_000), 25_000)).toBeUndefined();
  expect(exactnessWarning(circle(50), null)).toBeUndefined();
});
