import fc from 'fast-check';
import { issueWords, parseWith } from '../parsing/parse';
import { fromGeoJson, toGeoJson } from './geojson';
import type { PlaceShape } from './place';
import { isInPlace, metresBetween, placeShapeSchema } from './place';
import { crossesItself } from './ring';

const box = (west: number, south: number, east: number, north: number): [number, number][] => [
  [west, south],
  [east, south],
  [east, north],
  [west, north],
  [west, south],
];
const donut: PlaceShape = { type: 'Polygon', coordinates: [box(10, 46, 14, 48), box(11, 46.5, 12, 47.5)] };
const fiji: PlaceShape = { type: 'Polygon', coordinates: [box(177, -20, -178, -15)] };

test.each<{ what: string; shape: PlaceShape; lon: number; lat: number; is: boolean }>([
  { what: 'inside', shape: donut, lon: 13, lat: 47, is: true },
  { what: 'outside', shape: donut, lon: 15, lat: 47, is: false },
  { what: 'in the hole', shape: donut, lon: 11.5, lat: 47, is: false },
  { what: 'on the edge', shape: donut, lon: 10, lat: 47, is: true },
  { what: 'on a corner', shape: donut, lon: 14, lat: 48, is: true },
  { what: 'on the edge of the hole', shape: donut, lon: 11, lat: 47, is: true },
  { what: 'east of the date line', shape: fiji, lon: -179, lat: -17, is: true },
  { what: 'west of the date line', shape: fiji, lon: 178, lat: -17, is: true },
  { what: 'on the other side of the world', shape: fiji, lon: 0, lat: -17, is: false },
  {
    what: 'in one of several',
    shape: { type: 'MultiPolygon', coordinates: [[box(0, 0, 1, 1)], [box(5, 5, 6, 6)]] },
    lon: 5.5,
    lat: 5.5,
    is: true,
  },
  {
    what: 'in a circle',
    shape: { type: 'Circle', center: [11.4, 47.27], radius: 150_000 },
    lon: 11.58,
    lat: 48.14,
    is: true,
  },
  {
    what: 'out of a circle',
    shape: { type: 'Circle', center: [11.4, 47.27], radius: 90_000 },
    lon: 11.58,
    lat: 48.14,
    is: false,
  },
])('$what: $is', ({ shape, lon, lat, is }) => {
  expect(isInPlace(shape, { lon, lat })).toBe(is);
});

test('without a position it is unknown', () => {
  expect(isInPlace(donut, { lat: 47 })).toBeNull();
});

test('the circle of the date line is one circle', () => {
  expect(isInPlace({ type: 'Circle', center: [179.9, 0], radius: 50_000 }, { lon: -179.9, lat: 0 })).toBe(true);
});

test('Innsbruck to Munich is about 98 km', () => {
  expect(metresBetween([11.4041, 47.2692], [11.582, 48.1351]) / 1000).toBeCloseTo(97.2, 0);
});

test.each([
  {
    shape: {
      type: 'Polygon',
      coordinates: [
        [
          [0, 0],
          [1, 1],
          [1, 0],
          [0, 1],
          [0, 0],
        ],
      ],
    },
    says: 'coordinates.0: met [[0,0],[1,1],[1,0],[0,1],[0,0]], expected a ring whose edges do not cross',
  },
  {
    shape: {
      type: 'Polygon',
      coordinates: [
        [
          [0, 0],
          [1, 0],
          [1, 1],
          [0, 1],
        ],
      ],
    },
    says: 'coordinates.0: met [[0,0],[1,0],[1,1],[0,1]], expected a ring that ends where it begins',
  },
  {
    shape: {
      type: 'Polygon',
      coordinates: [
        [
          [0, 0],
          [2, 0],
          [1, 0],
          [0, 0],
        ],
      ],
    },
    says: 'expected a ring whose edges do not cross',
  },
  { shape: { type: 'Circle', center: [200, 0], radius: 100 }, says: 'center.0: met 200, expected at most 180' },
  { shape: { type: 'Point', coordinates: [0, 0] }, says: 'type: met "Point", expected' },
])('$shape is refused: $says', ({ shape, says }) => {
  const parsed = parseWith(placeShapeSchema, shape);
  expect(parsed.ok ? '' : parsed.issues.map(issueWords).join('; ')).toContain(says);
});

test('GeoJSON out and in again is the same place', () => {
  const coordinate = fc.tuple(fc.integer({ min: -170, max: 170 }), fc.integer({ min: -80, max: 80 }));
  fc.assert(
    fc.property(
      coordinate,
      fc.integer({ min: 100, max: 900_000 }),
      fc.string({ minLength: 1, maxLength: 20 }),
      ([lon, lat], radius, name) => {
        const places = [
          { name, shape: { type: 'Circle' as const, center: [lon, lat] as [number, number], radius } },
          { name, shape: { type: 'Polygon' as const, coordinates: [box(lon, lat, lon + 5, lat + 5)] } },
        ];
        expect(fromGeoJson(JSON.parse(JSON.stringify(toGeoJson(places))))).toEqual({ ok: true, value: places });
      },
    ),
  );
});

test('a wrong shape in a collection is told with its path', () => {
  const broken = {
    type: 'FeatureCollection',
    features: [{ type: 'Feature', properties: {}, geometry: { type: 'Point', coordinates: [0, 0] } }],
  };
  const parsed = fromGeoJson(broken);
  expect(parsed.ok ? '' : parsed.issues.map(issueWords).join()).toMatch(/^features\.0\.geometry\.radius: met nothing/);
});

/** Two segments have a point in common: by where their ends lie, worked out for every pair. */
function anyTwoMeet(points: readonly [number, number][]): boolean {
  const side = (a: [number, number], b: [number, number], c: [number, number]): number =>
    Math.sign((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]));
  const between = (a: number, b: number, c: number): boolean => Math.min(a, b) <= c && c <= Math.max(a, b);
  const edges = points.slice(1).map((to, index) => [points[index] as [number, number], to] as const);
  return edges.some(([p, q], a) =>
    edges.some(([r, s], b) => {
      if (b <= a + 1 || (a === 0 && b === edges.length - 1)) return false;
      const [d1, d2, d3, d4] = [side(r, s, p), side(r, s, q), side(p, q, r), side(p, q, s)];
      if (d1 !== d2 && d3 !== d4 && d1 * d2 <= 0 && d3 * d4 <= 0) return true;
      return d1 === 0 && d2 === 0 && between(r[0], s[0], p[0]) && between(r[1], s[1], p[1]);
    }),
  );
}

test('a ring crosses itself where any two of its edges do', () => {
  const whole = fc.tuple(fc.integer({ min: 0, max: 40 }), fc.integer({ min: 0, max: 40 }));
  fc.assert(
    fc.property(fc.uniqueArray(whole, { minLength: 4, maxLength: 9, selector: String }), (corners) => {
      const ring = [...corners, corners[0] as [number, number]];
      if (anyTwoMeet(ring)) expect(crossesItself(ring)).toBe(true);
      // Neighbours that run back over each other are told, too.
      else if (crossesItself(ring)) expect(ring.length).toBeGreaterThan(4);
    }),
  );
});

test('a place has no more points than anybody draws, and thousands take no time', () => {
  const around = (count: number, lon: number): [number, number][] => {
    const corners = Array.from({ length: count - 1 }, (_, nth): [number, number] => {
      const turn = (nth / (count - 1)) * 2 * Math.PI;
      return [lon + Math.cos(turn) * (1 + (nth % 2) / 10), Math.sin(turn) * (1 + (nth % 2) / 10)];
    });
    return [...corners, corners[0] as [number, number]];
  };
  const many = (rings: number): PlaceShape => ({
    type: 'MultiPolygon',
    coordinates: Array.from({ length: rings }, (_, nth) => [around(2000, nth * 3)]),
  });
  expect(placeShapeSchema.safeParse(many(10)).success).toBe(true);
  const refused = parseWith(placeShapeSchema, many(11));
  expect(refused.ok ? [] : refused.issues.map(issueWords)).toEqual([expect.stringContaining('at most 20,000 points in a place')]);
});
