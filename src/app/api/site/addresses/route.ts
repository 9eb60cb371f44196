import { z } from 'zod';
import { answer, bodyAs } from '@/server/api';
import { setAddresses } from '@/server/db/sites';
import { pool } from '@/server/pool';

const host = z.string().regex(/^[a-z0-9.-]+(:\d{1,5})?$/, { error: 'a host such as www.example.com, without https:// and path' });
const addressesSchema = z.strictObject({ addresses: z.array(host).min(1).max(50) });

export async function PUT(request: Request) {
  return answer(request, { mayEdit: true }, async ({ siteId }) => {
    const { addresses } = await bodyAs(request, addressesSchema);
    await setAddresses(pool(), siteId, [...new Set(addresses)]);
  });
}
