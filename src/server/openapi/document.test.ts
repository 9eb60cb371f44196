import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { ENDPOINTS } from '../api/table';
import { COLLECTOR_ENDPOINTS, collectorDocument } from './collector';
import { ANSWERS, openApiDocument } from './document';

const published = join(__dirname, '../../../docs/openapi.json');

test('what every request answers in JSON is in the document, and nothing else', () => {
  const answering = ENDPOINTS.filter((one) => one.as === undefined || one.as === 'lines').map(({ method, path }) => `${method} ${path}`);
  expect(Object.keys(ANSWERS.answers).sort()).toEqual(answering.sort());
});

test('every reference of the document leads somewhere, and it is the one that is published', () => {
  const document = JSON.parse(JSON.stringify(openApiDocument(ENDPOINTS))) as { components: { schemas: Record<string, unknown> } };
  const references = [...JSON.stringify(document).matchAll(/"\$ref":"([^"]+)"/g)].map(([, target]) => target ?? '');
  expect(references.length).toBeGreaterThan(20);
  for (const target of references) expect(Object.keys(document.components.schemas)).toContain(target.replace('#/components/schemas/', ''));
  expect(JSON.parse(readFileSync(published, 'utf8'))).toEqual(document);
});

test('the collector’s document has its routes, and is the one that is published', () => {
  const source = ['server', 'talk'].map((name) => readFileSync(join(__dirname, `../collector/${name}.ts`), 'utf8')).join('\n');
  const there = [...source.matchAll(/(?:server|scope)\.(get|post)(?:<.*>)?\(\s*'([^']+)'/g)].map(
    ([, method, path]) => `${(path ?? '').replace(/:(\w+)/g, '{$1}')} ${method}`,
  );
  const described = Object.entries(COLLECTOR_ENDPOINTS).flatMap(([path, methods]) =>
    Object.keys(methods).map((method) => `${path} ${method}`),
  );
  expect(described.sort()).toEqual(there.sort());
  const document = JSON.parse(JSON.stringify(collectorDocument())) as { components: { schemas: Record<string, unknown> } };
  for (const [, target] of JSON.stringify(document).matchAll(/"\$ref":"#\/components\/schemas\/([^"]+)"/g))
    expect(Object.keys(document.components.schemas)).toContain(target);
  expect(JSON.parse(readFileSync(join(published, '../openapi-collector.json'), 'utf8'))).toEqual(document);
});
