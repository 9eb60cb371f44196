import { openApiDocument } from '@/server/openapi/document';

/** The API's description: the same for everybody. */
export function GET() {
  return Response.json(openApiDocument());
}
