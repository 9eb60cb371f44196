import { changing } from '@/server/db/changing';
import { answer, bodyAs } from '@/server/http/api';
import { findSite, setAddresses } from '@/server/db/sites';
import { addressesSchema } from '@/server/http/requests';

export async function PUT(request: Request) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { addresses } = await bodyAs(request, addressesSchema);
    return changing(member, async (db, note) => {
      const before = (await findSite(db, siteId))?.addresses;
      await setAddresses(db, siteId, [...new Set(addresses)]);
      await note({
        kind: 'setup',
        subject: 'addresses',
        name: 'the addresses',
        did: 'changed',
        before,
        after: [...new Set(addresses)],
      });
    });
  });
}
