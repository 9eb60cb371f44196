import { answer, queryAs } from '@/server/http/api';
import { searchTowns, townsWithin } from '@/server/map/towns';
import { townsSchema } from '@/server/http/requests';

/** Shipped towns by how their name begins, or the largest in sight. */
export async function GET(request: Request) {
  return answer(request, async () => {
    const query = queryAs(request, townsSchema);
    return 'text' in query ? searchTowns(query.text) : townsWithin(query);
  });
}
