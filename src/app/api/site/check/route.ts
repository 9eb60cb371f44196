import { poolOf } from '@/server/db/sharedPool';
import { answer } from '@/server/http/api';
import { checkSite } from '@/server/sites/check';

/** Is the script there, on which pages and when was it seen, and what was turned away? */
export async function GET(request: Request) {
  return answer(request, ({ siteId }) => checkSite(poolOf(siteId), siteId));
}
