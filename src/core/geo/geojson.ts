import { z } from 'zod';
import type { Parsed } from '../parsing/parse';
import { parseWith } from '../parsing/parse';
import type { Place, PlaceShape } from './place';
import { placeShapeSchema } from './place';

const featureSchema = z.object({
  type: z.literal('Feature'),
  properties: z.object({ name: z.string().min(1).max(200).optional(), radius: z.number().optional() }).nullish(),
  geometry: z.looseObject({ type: z.string() }),
});
const collectionSchema = z.object({ type: z.literal('FeatureCollection'), features: z.array(featureSchema).min(1).max(500) });

/** Places as a GeoJSON FeatureCollection. A circle is a Point with a `radius` in metres among its properties. */
export function toGeoJson(places: readonly Place[]): object {
  return {
    type: 'FeatureCollection',
    features: places.map(({ name, shape }) =>
      shape.type === 'Circle'
        ? { type: 'Feature', properties: { name, radius: shape.radius }, geometry: { type: 'Point', coordinates: shape.center } }
        : { type: 'Feature', properties: { name }, geometry: shape },
    ),
  };
}

/** Reads a Feature or a FeatureCollection; every shape that is wrong is told with its path. */
export function fromGeoJson(input: unknown): Parsed<Place[]> {
  const isOne = typeof input === 'object' && input !== null && (input as { type?: unknown }).type === 'Feature';
  const parsed = isOne ? parseWith(featureSchema, input) : parseWith(collectionSchema, input);
  if (!parsed.ok) return parsed;
  const features = 'features' in parsed.value ? parsed.value.features : [parsed.value];
  const places: Place[] = [];
  const issues = features.flatMap(({ properties, geometry }, index) => {
    const shape = parseWith<PlaceShape>(placeShapeSchema, shapeFrom(geometry, properties?.radius));
    if (shape.ok) places.push({ name: properties?.name ?? `Place ${index + 1}`, shape: shape.value });
    return shape.ok
      ? []
      : shape.issues.map((issue) => ({ ...issue, path: [...(isOne ? [] : ['features', index]), 'geometry', ...issue.path] }));
  });
  return issues.length ? { ok: false, issues } : { ok: true, value: places };
}

function shapeFrom(geometry: Readonly<Record<string, unknown>>, radius: number | undefined): unknown {
  if (geometry['type'] === 'Point') return { type: 'Circle', center: geometry['coordinates'], radius };
  return { type: geometry['type'], coordinates: geometry['coordinates'] };
}
