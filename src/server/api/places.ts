import type { Place } from '@/core/geo/place';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { z } from 'zod';
import { toGeoJson } from '@/core/geo/geojson';
import { issueWords } from '@/core/parsing/parse';
import { bounded } from '../bounded/bounded';
import { newId } from '../db/ids';
import { withTransaction } from '../db/pool';
import { poolOf } from '../db/sharedPool';
import { insertPlace, places } from '../db/vocabulary';
import { download } from '../http/downloads';
import { Refused } from '../http/refused';
import { changedPlaceSchema, newPlaceSchema, oneOrAllSchema, placeCountSchema, townsSchema } from '../http/requests';
import { searchTowns, townsWithin } from '../map/towns';
import { countIn, listSpots } from '../map/visitors';
import { edited } from './edited';
import { endpoint, file } from './endpoint';

let borders: Promise<string> | undefined;

const place = edited({
  table: 'place',
  log: 'place',
  prefix: 'place',
  usedAs: 'places',
  find: (db, siteId, id) => places.find(db, siteId, id),
  insert: async (db, siteId, id, given) => {
    await insertPlace(db, siteId, { ...given, id });
    return { id };
  },
  update: async (db, siteId, id, { name, shape, revision }) => ({
    revision: await places.update(db, siteId, { id, name, body: shape, revision }),
  }),
  written: ({ name, shape }: Place) => ({ name, shape }),
});

export const placesEndpoints = [
  file({
    path: '/api/map/borders',
    right: 'look',
    says: 'The borders of the Earth’s countries',
    answers: 'TopoJSON',
    run: async () => {
      borders ??= readFile(join(process.cwd(), 'node_modules', 'world-atlas', 'countries-50m.json'), 'utf8');
      return new Response(await borders, {
        headers: { 'content-type': 'application/json; charset=utf-8', 'cache-control': 'private, max-age=604800' },
      });
    },
  }),
  endpoint({
    method: 'GET',
    path: '/api/map/towns',
    right: 'look',
    says: 'Towns whose name begins so, or the largest in sight',
    query: townsSchema,
    answers: 'Name, country, people and position, the largest first',
    run: async ({ query }) => {
      return 'text' in query ? searchTowns(query.text) : townsWithin(query);
    },
  }),
  endpoint({
    method: 'GET',
    path: '/api/map/visitors',
    right: 'look',
    says: 'Where the visitors of the last 30 days were',
    answers: 'Positions with how many people',
    run: ({ member: { siteId } }) => listSpots(poolOf(siteId), siteId),
  }),
  endpoint({
    method: 'PUT',
    path: '/api/places/{id}',
    right: 'edit',
    says: 'Save a place',
    body: changedPlaceSchema,
    answers: 'Its new revision',
    run: place.save,
  }),
  endpoint({
    method: 'DELETE',
    path: '/api/places/{id}',
    right: 'edit',
    says: 'Delete a place that nothing names',
    answers: 'Nothing more',
    run: place.remove,
  }),
  endpoint({
    method: 'POST',
    path: '/api/places/count',
    right: 'look',
    says: 'How many recent visitors are in a shape',
    body: placeCountSchema,
    answers: 'Inside, located in all, and how exact half of the positions are',
    run: async ({ member: { siteId }, body: { shape } }) => {
      return countIn(shape, await listSpots(poolOf(siteId), siteId));
    },
  }),
  endpoint({
    method: 'POST',
    path: '/api/places/import',
    right: 'edit',
    says: 'Bring places in as GeoJSON, all or none',
    body: z.unknown(),
    bodyShape: {
      type: 'object',
      description: 'A Feature or a FeatureCollection (RFC 7946); a Point with a `radius` among its properties is a circle',
    },
    answers: 'The new ids and names',
    run: async ({ member: { siteId }, body }) => {
      const parsed = await bounded('placesIn', [body], (code, message) => new Refused(422, code, message));
      if (!parsed.ok) throw new Refused(422, 'body.shape', parsed.issues.slice(0, 5).map(issueWords).join('; '), parsed.issues);
      const made = parsed.value.map((place) => ({ id: newId('place'), ...place }));
      await withTransaction(poolOf(siteId), async (tx) => {
        for (const place of made) await insertPlace(tx, siteId, place);
      });
      return { places: made.map(({ id, name }) => ({ id, name })) };
    },
  }),
  endpoint({
    method: 'POST',
    path: '/api/places',
    right: 'edit',
    says: 'A new place',
    body: newPlaceSchema,
    answers: 'Its id. A place as `shape` is drawn on the map: a GeoJSON polygon or multipolygon, or a circle',
    run: place.make,
  }),
  file({
    path: '/places.geojson',
    right: 'export',
    says: 'All places, or the one named',
    type: 'application/geo+json',
    query: oneOrAllSchema,
    answers: 'GeoJSON (RFC 7946)',
    run: async ({ member: { siteId }, query: { id } }) => {
      const chosen = (await places.list(poolOf(siteId), siteId)).filter((place) => id === undefined || place.id === id);
      return download('places.geojson', 'application/geo+json', JSON.stringify(toGeoJson(chosen)));
    },
  }),
] as const;
