import { answer, bodyAs } from '@/server/http/api';
import { setPrivacy } from '@/server/db/sites';
import { poolOf } from '@/server/db/sharedPool';
import { privacySchema } from '@/server/http/requests';

export async function PUT(request: Request) {
  return answer(request, { mayEdit: true }, async ({ siteId }) => {
    const { consent, keptParameters } = await bodyAs(request, privacySchema);
    await setPrivacy(poolOf(siteId), siteId, { consent, keptParameters: [...new Set(keptParameters)] });
  });
}
