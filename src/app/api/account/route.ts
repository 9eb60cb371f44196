import { renameMember } from '@/server/db/members';
import { pool } from '@/server/db/sharedPool';
import { answer, bodyAs } from '@/server/http/api';
import { ownNameSchema } from '@/server/http/requests';

export async function PUT(request: Request) {
  return answer(request, async ({ id }) => renameMember(pool(), id, (await bodyAs(request, ownNameSchema)).name));
}
