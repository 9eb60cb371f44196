// Every request that the studio answers. Handlers, rights, the document, the client's types, the matrix and the fuzz go through this list.
import { pathFinder } from '../http/paths';
import { openApiDocument } from '../openapi/document';
import type { Json } from '../openapi/shapes';
import { accountEndpoints } from './account';
import { campaignsEndpoints } from './campaigns';
import { commonEndpoints } from './common';
import { connectionsEndpoints } from './connections';
import { conversationsEndpoints } from './conversations';
import type { Endpoint, Method } from './endpoint';
import { endpoint } from './endpoint';
import { leadsEndpoints } from './leads';
import { peopleEndpoints } from './people';
import { picturesEndpoints } from './pictures';
import { placesEndpoints } from './places';
import { privacyEndpoints } from './privacy';
import { rehearseEndpoints } from './rehearse';
import { releasesEndpoints } from './releases';
import { resultsEndpoints } from './results';
import { segmentsEndpoints } from './segments';
import { siteEndpoints } from './site';
import { todayEndpoints } from './today';
import { visitsEndpoints } from './visits';
import { vocabularyEndpoints } from './vocabulary';

const ALL = [
  endpoint({
    method: 'GET',
    path: '/openapi.json',
    right: 'anybody',
    says: 'This document',
    answers: 'OpenAPI 3.1',
    run: (): Json => openApiDocument(ENDPOINTS),
  }),
  ...accountEndpoints,
  ...campaignsEndpoints,
  ...commonEndpoints,
  ...connectionsEndpoints,
  ...conversationsEndpoints,
  ...leadsEndpoints,
  ...peopleEndpoints,
  ...picturesEndpoints,
  ...placesEndpoints,
  ...privacyEndpoints,
  ...rehearseEndpoints,
  ...releasesEndpoints,
  ...resultsEndpoints,
  ...segmentsEndpoints,
  ...siteEndpoints,
  ...todayEndpoints,
  ...visitsEndpoints,
  ...vocabularyEndpoints,
] as const;
type One = (typeof ALL)[number];

/** What the studio may be asked, by method and path: types for the client. */
export type Api = { readonly [E in One as `${E['method']} ${E['path']}`]: NonNullable<E['carries']> };

export const ENDPOINTS: readonly Endpoint[] = ALL;

const find = pathFinder(ENDPOINTS.map(({ path }) => path));
const byName = new Map(ENDPOINTS.map((one) => [`${one.method} ${one.path}`, one]));

/** What is asked for by an address; `endpoint` is undefined where the path is asked otherwise, the whole where it is no path of ours. */
export function endpointAt(
  method: string,
  pathname: string,
):
  | { readonly endpoint: Endpoint | undefined; readonly params: Readonly<Record<string, string>>; readonly methods: readonly Method[] }
  | undefined {
  const found = find(pathname);
  if (!found) return undefined;
  const methods = ENDPOINTS.filter(({ path }) => path === found.path).map((one) => one.method);
  return { endpoint: byName.get(`${method === 'HEAD' ? 'GET' : method} ${found.path}`), params: found.params, methods };
}
