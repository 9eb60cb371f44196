import { answer, bodyAs } from '@/server/http/api';
import { setAddresses } from '@/server/db/sites';
import { poolOf } from '@/server/db/sharedPool';
import { addressesSchema } from '@/server/http/requests';

export async function PUT(request: Request) {
  return answer(request, { mayEdit: true }, async ({ siteId }) => {
    const { addresses } = await bodyAs(request, addressesSchema);
    await setAddresses(poolOf(siteId), siteId, [...new Set(addresses)]);
  });
}
