import { answer, bodyAs } from '@/server/api';
import { setPrivacy } from '@/server/db/sites';
import { pool } from '@/server/pool';
import { privacySchema } from '@/server/requests';

export async function PUT(request: Request) {
  return answer(request, { mayEdit: true }, async ({ siteId }) => {
    const { consent, keptParameters } = await bodyAs(request, privacySchema);
    await setPrivacy(pool(), siteId, { consent, keptParameters: [...new Set(keptParameters)] });
  });
}
