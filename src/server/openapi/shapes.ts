import { z } from 'zod';

export type Json = Readonly<Record<string, unknown>>;

/** What a schema takes, as JSON Schema inside a document. */
export function schemaOf(schema: z.ZodType): Json {
  const { $schema: _version, ...rest } = z.toJSONSchema(schema, { io: 'input', unrepresentable: 'any' }) as Record<string, unknown>;
  return rest;
}

export const ref = (name: string): Json => ({ $ref: `#/components/schemas/${name}` });

/** OpenAPI's paths: each endpoint of each path and method put into its form. */
export function pathsOf<T>(
  endpoints: Readonly<Record<string, Readonly<Record<string, T>>>>,
  operation: (path: string, endpoint: T, method: string) => Json,
): Json {
  return Object.fromEntries(
    Object.entries(endpoints).map(([path, methods]) => [
      path,
      Object.fromEntries(Object.entries(methods).map(([method, endpoint]) => [method, operation(path, endpoint, method)])),
    ]),
  );
}

/** The parameters that stand in a path's braces. */
export const pathParameters = (path: string): Json[] =>
  [...path.matchAll(/\{(\w+)\}/g)].map(([, name]) => ({ name, in: 'path', required: true, schema: { type: 'string' } }));
