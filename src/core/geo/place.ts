import { z } from 'zod';
import type { Truth } from '../logic/truth';
import { crossesItself } from './ring';

const EARTH_METRES = 6_371_008.8;
/** Of a ring, and of all of a place's together. */
const [MOST_POINTS, MOST_IN_ALL] = [2000, 20_000];
const RADIANS = Math.PI / 180;

const longitude = z.number().min(-180).max(180);
const latitude = z.number().min(-90).max(90);
const position = z.tuple([longitude, latitude]);
export type Position = z.infer<typeof position>;

const ring = z
  .array(position)
  .min(4)
  .max(MOST_POINTS)
  .refine((points) => samePosition(points[0], points.at(-1)), { error: 'place.openRing' })
  .refine((points) => !crossesItself(unwrap(points)), { error: 'place.crossesItself' });
const polygon = z.array(ring).min(1).max(50);

/** Counted before any ring is looked at. */
const fewEnough = <T extends z.ZodType>(schema: T) =>
  z
    .unknown()
    .refine((given) => pointsIn(given) <= MOST_IN_ALL, { error: 'place.tooManyPoints' })
    .pipe(schema);
const pointsIn = (given: unknown, levels = 3): number => {
  if (!Array.isArray(given)) return 0;
  return levels === 0 ? 1 : given.reduce((sum: number, one: unknown) => sum + pointsIn(one, levels - 1), 0);
};

/** GeoJSON geometries (RFC 7946), and a circle, which GeoJSON lacks. Longitudes come first; a radius is in metres. */
export const placeShapeSchema = z.discriminatedUnion('type', [
  z.strictObject({ type: z.literal('Polygon'), coordinates: fewEnough(polygon) }),
  z.strictObject({ type: z.literal('MultiPolygon'), coordinates: fewEnough(z.array(polygon).min(1).max(50)) }),
  z.strictObject({ type: z.literal('Circle'), center: position, radius: z.number().min(50).max(5_000_000) }),
]);
export type PlaceShape = z.infer<typeof placeShapeSchema>;

export interface Place {
  readonly name: string;
  readonly shape: PlaceShape;
}
export type Places = Readonly<Record<string, Place>>;

/** Is the position in the place? Its edge is inside, and so is the edge of a hole. Unknown without a position. */
export function isInPlace(shape: PlaceShape, at: { readonly lat?: number | undefined; readonly lon?: number | undefined }): Truth {
  const { lat, lon } = at;
  if (lat === undefined || lon === undefined) return null;
  switch (shape.type) {
    case 'Circle':
      return metresBetween(shape.center, [lon, lat]) <= shape.radius;
    case 'Polygon':
      return isInPolygon(shape.coordinates, [lon, lat]);
    case 'MultiPolygon':
      return shape.coordinates.some((rings) => isInPolygon(rings, [lon, lat]));
  }
}

/** Great-circle distance by the haversine formula (Sinnott, 1984) on a sphere of the Earth's mean radius. */
export function metresBetween([lon1, lat1]: Position, [lon2, lat2]: Position): number {
  const half = (degrees: number): number => Math.sin((degrees * RADIANS) / 2) ** 2;
  const a = half(lat2 - lat1) + Math.cos(lat1 * RADIANS) * Math.cos(lat2 * RADIANS) * half(lon2 - lon1);
  return 2 * EARTH_METRES * Math.asin(Math.min(1, Math.sqrt(a)));
}

/** Half the width of the place at its widest, in metres: what its size is compared to the location's accuracy by. */
export function reachOf(shape: PlaceShape): number {
  if (shape.type === 'Circle') return shape.radius;
  const points = (shape.type === 'Polygon' ? [shape.coordinates] : shape.coordinates).flatMap(([outer]) => unwrap(outer ?? []));
  const [lons, lats] = [points.map(([lon]) => lon), points.map(([, lat]) => lat)];
  return metresBetween([Math.min(...lons), Math.min(...lats)], [Math.max(...lons), Math.max(...lats)]) / 2;
}

function isInPolygon(rings: readonly (readonly Position[])[], at: Position): boolean {
  const [outer, ...holes] = rings.map((points) => sideOf(unwrap(points), at));
  return (outer === 'inside' || outer === 'edge') && !holes.includes('inside');
}

/** Longitudes without jumps, so that a ring across the date line is one piece; they may leave the usual range. */
export function unwrap(points: readonly Position[]): Position[] {
  const out: Position[] = [];
  for (const [lon, lat] of points) {
    const before = out.at(-1)?.[0] ?? lon;
    out.push([lon + 360 * Math.round((before - lon) / 360), lat]);
  }
  return out;
}

/** Ray casting, with a position on an edge told apart. A ring beyond the usual range is met by the same place a turn away. */
function sideOf(points: readonly Position[], [lon, lat]: Position): 'inside' | 'outside' | 'edge' {
  for (const turn of [0, 360, -360]) {
    const side = sideOfTurn(points, lon + turn, lat);
    if (side !== 'outside') return side;
  }
  return 'outside';
}

function sideOfTurn(points: readonly Position[], x: number, y: number): 'inside' | 'outside' | 'edge' {
  let isInside = false;
  for (let index = 1; index < points.length; index++) {
    const [x1, y1] = points[index - 1] as Position;
    const [x2, y2] = points[index] as Position;
    const cross = (x2 - x1) * (y - y1) - (y2 - y1) * (x - x1);
    const isBetween = x >= Math.min(x1, x2) && x <= Math.max(x1, x2) && y >= Math.min(y1, y2) && y <= Math.max(y1, y2);
    if (isBetween && Math.abs(cross) < 1e-12) return 'edge';
    if (y1 > y !== y2 > y && x < x1 + ((y - y1) / (y2 - y1)) * (x2 - x1)) isInside = !isInside;
  }
  return isInside ? 'inside' : 'outside';
}

function samePosition(a: Position | undefined, b: Position | undefined): boolean {
  return a !== undefined && b !== undefined && a[0] === b[0] && a[1] === b[1];
}
