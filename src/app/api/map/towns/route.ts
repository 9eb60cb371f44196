import { z } from 'zod';
import { answer, queryAs } from '@/server/api';
import { searchTowns, townsWithin } from '@/server/map/towns';

const degrees = z.coerce.number().min(-1000).max(1000);
const townsSchema = z.union([
  z.strictObject({ text: z.string().trim().min(1).max(100) }),
  z.strictObject({ west: degrees, south: degrees, east: degrees, north: degrees }),
]);

/** Shipped towns by how their name begins, or the largest in sight. */
export async function GET(request: Request) {
  return answer(request, {}, async () => {
    const query = queryAs(request, townsSchema);
    return 'text' in query ? searchTowns(query.text) : townsWithin(query);
  });
}
