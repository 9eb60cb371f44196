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

/** One shape with more properties, all of which have to be there. */
export const and = (one: Json, properties: Readonly<Record<string, Json>>): Json => ({
  allOf: [one, { type: 'object', properties, required: Object.keys(properties) }],
});

export const NAME: Json = { type: 'string', minLength: 1, maxLength: 200 };
export const REVISION: Json = {
  type: 'integer',
  minimum: 1,
  description: 'The revision that was read; an older one than the stored is refused with 409.',
};

/** What an address's parameters may be, each as JSON Schema. */
export const queryShapes = (query: z.ZodType): Record<string, Json> => {
  const { properties = {} } = schemaOf(query) as { properties?: Record<string, Json> };
  return properties;
};

/** What a request's body may be, as JSON Schema; undefined where it has none. */
export const bodyShapeOf = ({ body, bodyShape }: { readonly body?: z.ZodType; readonly bodyShape?: Json }): Json | undefined =>
  bodyShape ?? (body && schemaOf(body));
