// Between the shapes of places and what the map draws. Pure.
import type { PlaceShape, Position } from '@/core/geo/place';
import { unwrap } from '@/core/geo/place';

/** Six decimals are a tenth of a metre. */
const round = (degrees: number): number => Math.round(degrees * 1e6) / 1e6;
/** The map's longitudes go on beyond the date line; stored ones do not. */
const wrap = (lon: number): number => (lon >= -180 && lon <= 180 ? lon : ((((lon + 180) % 360) + 360) % 360) - 180);
export const storedPosition = ([lon, lat]: readonly number[]): Position => [
  round(wrap(lon ?? 0)),
  round(Math.max(-90, Math.min(90, lat ?? 0))),
];

const area = (polygon: readonly (readonly (readonly number[])[])[]): Position[][] =>
  polygon.map((ring) => {
    const points = ring.map(storedPosition);
    const [first, last] = [points[0], points.at(-1)];
    return first && last && (first[0] !== last[0] || first[1] !== last[1]) ? [...points, first] : points;
  });

/** Polygons as the map has them, each of rings of [lon, lat], as one shape; undefined if there are none. */
export function shapeOfPolygons(polygons: readonly (readonly (readonly (readonly number[])[])[])[]): PlaceShape | undefined {
  const areas = polygons.map(area);
  const [only] = areas;
  if (!only) return undefined;
  return areas.length === 1 ? { type: 'Polygon', coordinates: only } : { type: 'MultiPolygon', coordinates: areas };
}

/** The areas of a shape with longitudes that do not jump, to draw; a circle has none. */
export function polygonsOf(shape: PlaceShape): Position[][][] {
  if (shape.type === 'Circle') return [];
  return (shape.type === 'Polygon' ? [shape.coordinates] : shape.coordinates).map((rings) => rings.map(unwrap));
}

/** What drawing something makes of a place: another area joins areas, anything else takes the place of what was there. */
export function afterDrawn(shape: PlaceShape, drawn: PlaceShape): PlaceShape {
  if (drawn.type === 'Circle' || shape.type === 'Circle') return drawn;
  return shapeOfPolygons([...polygonsOf(shape), ...polygonsOf(drawn)]) ?? drawn;
}
