import { noteChange } from '@/server/db/changeLog';
import { answer, bodyAs } from '@/server/http/api';
import { findSite, setAddresses } from '@/server/db/sites';
import { poolOf } from '@/server/db/sharedPool';
import { addressesSchema } from '@/server/http/requests';

export async function PUT(request: Request) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { addresses } = await bodyAs(request, addressesSchema);
    const before = (await findSite(poolOf(siteId), siteId))?.addresses;
    await setAddresses(poolOf(siteId), siteId, [...new Set(addresses)]);
    await noteChange(poolOf(siteId), siteId, member, {
      kind: 'setup',
      subject: 'addresses',
      name: 'the addresses',
      did: 'changed',
      before,
      after: [...new Set(addresses)],
    });
  });
}
