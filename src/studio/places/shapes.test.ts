import { placeShapeSchema } from '@/core/geo/place';
import { afterDrawn, polygonsOf, shapeOfPolygons, storedPosition } from './shapes';

const square = (west: number, east: number) => [
  [west, 0],
  [east, 0],
  [east, 10],
  [west, 10],
];

test('what the map draws becomes a shape that can be stored: closed, within the Earth, rounded', () => {
  const shape = shapeOfPolygons([[square(1.23456789, 5)]]);
  expect(shape).toEqual({
    type: 'Polygon',
    coordinates: [
      [
        [1.234568, 0],
        [5, 0],
        [5, 10],
        [1.234568, 10],
        [1.234568, 0],
      ],
    ],
  });
  expect(placeShapeSchema.safeParse(shape).success).toBe(true);
  expect(storedPosition([190, 95])).toEqual([-170, 90]);
  expect(storedPosition([-541, 0])).toEqual([179, 0]);
  expect(shapeOfPolygons([])).toBeUndefined();
});

test('an area across the date line is one piece on the map and stored within the usual range', () => {
  const shape = shapeOfPolygons([[square(175, 185)]]);
  expect(shape && polygonsOf(shape)[0]?.[0]?.map(([lon]) => lon)).toEqual([175, 185, 185, 175, 175]);
  expect(placeShapeSchema.safeParse(shape).success).toBe(true);
});

test('another area joins areas, a circle takes the place of everything', () => {
  const [one, other] = [shapeOfPolygons([[square(0, 1)]]), shapeOfPolygons([[square(5, 6)]])];
  if (!one || !other) throw new Error('no shapes');
  const circle = { type: 'Circle' as const, center: [0, 0] as [number, number], radius: 1000 };
  expect(afterDrawn(one, other)).toMatchObject({ type: 'MultiPolygon', coordinates: { length: 2 } });
  expect(afterDrawn(one, circle)).toBe(circle);
  expect(afterDrawn(circle, one)).toBe(one);
});
