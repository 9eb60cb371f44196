import type { PlaceShape } from '@/core/geo/place';
import { reachOf } from '@/core/geo/place';

export const kilometres = (metres: number): string =>
  metres < 10_000 ? `${(metres / 1000).toFixed(1).replace(/\.0$/, '')} km` : `${Math.round(metres / 1000).toLocaleString('en-GB')} km`;

/** "a circle of 30 km", "an area of 5 corners", "3 areas". */
export function shapeWords(shape: PlaceShape): string {
  switch (shape.type) {
    case 'Circle':
      return `a circle of ${kilometres(shape.radius)} around ${degreesWords(shape.center)}`;
    case 'Polygon': {
      const corners = (shape.coordinates[0]?.length ?? 1) - 1;
      const holes = shape.coordinates.length - 1;
      return `an area of ${corners} corners${holes === 0 ? '' : holes === 1 ? ' with a hole' : ` with ${holes} holes`}`;
    }
    case 'MultiPolygon':
      return shape.coordinates.length === 1 ? 'an area' : `${shape.coordinates.length} areas`;
  }
}

const degreesWords = ([lon, lat]: readonly [number, number]): string =>
  `${Math.abs(lat).toFixed(2)}° ${lat < 0 ? 'S' : 'N'}, ${Math.abs(lon).toFixed(2)}° ${lon < 0 ? 'W' : 'E'}`;

/** Where a place is smaller than positions are exact, who is in it is a guess; undefined where it is large enough. */
export function exactnessWarning(shape: PlaceShape, accuracy: number | null): string | undefined {
  if (accuracy === null || reachOf(shape) >= accuracy) return undefined;
  return `Smaller than the location is exact: half of the visitors are only known to ${kilometres(accuracy)}.`;
}
