import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { RIGHTS } from '../auth/rights';
import { endpointAt, ENDPOINTS } from './table';

const app = join(__dirname, '../../app');

test('no request is there twice, and one alone is for anybody', () => {
  const names = ENDPOINTS.map(({ method, path }) => `${method} ${path}`);
  expect(names.filter((name, index) => names.indexOf(name) !== index)).toEqual([]);
  expect(ENDPOINTS.length).toBeGreaterThan(130);
  for (const { right } of ENDPOINTS) expect([...RIGHTS, 'anybody']).toContain(right);
  expect(ENDPOINTS.filter(({ right }) => right === 'anybody').map(({ path }) => path)).toEqual(['/openapi.json']);
});

test('every request goes through the table: one file of the application for the API, and one for each file that is opened by a link', () => {
  const handlers = (readdirSync(app, { recursive: true }) as string[]).filter((name) => name.endsWith('route.ts')).sort();
  const files = ENDPOINTS.filter(({ path }) => !path.startsWith('/api/')).map(({ path }) => `${path.slice(1)}/route.ts`);
  expect(handlers).toEqual(['api/[...path]/route.ts', ...files].sort());
  for (const name of files) expect(readFileSync(join(app, name), 'utf8')).toBe("export { serve as GET } from '@/server/api/serve';\n");
  const methods = [...new Set(ENDPOINTS.map(({ method }) => method))];
  for (const method of methods) expect(readFileSync(join(app, 'api/[...path]/route.ts'), 'utf8')).toContain(`serve as ${method}`);
  expect(existsSync(join(app, 'api/route.ts'))).toBe(false);
});

test('an address is found whatever stands in its places, and what is named in full goes first', () => {
  const at = (method: string, path: string) => endpointAt(method, path)?.endpoint?.path;
  expect(at('PUT', '/api/leads/0199')).toBe('/api/leads/{id}');
  expect(at('PUT', '/api/campaigns/order')).toBe('/api/campaigns/order');
  expect(at('POST', '/api/visits/some/')).toBe('/api/visits/some');
  expect(at('HEAD', '/leads.csv')).toBe('/leads.csv');
  expect(endpointAt('GET', '/api/visitors/a%2Fb/why')?.params).toEqual({ id: 'a/b' });
  expect(endpointAt('GET', '/api/visitors/%ff/why')?.params).toEqual({ id: '%ff' });
  expect(endpointAt('DELETE', '/api/leads')).toMatchObject({ endpoint: undefined, methods: ['POST'] });
  for (const path of ['/api/leads/a/b', '/leadsXcsv', '/api/constructor', '', '/api'])
    expect([path, endpointAt('GET', path)]).toEqual([path, undefined]);
});
