import { z } from 'zod';
import { answer, bodyAs } from '@/server/api';
import { setPrivacy } from '@/server/db/sites';
import { pool } from '@/server/pool';

const parameter = z
  .string()
  .min(1)
  .max(100)
  .regex(/^[^*\s&=?#]+\*?$|^\*$/, { error: 'a parameter’s name such as ref, or a beginning such as utm_*' });
const privacySchema = z.strictObject({ consent: z.enum(['assumed', 'asked']), keptParameters: z.array(parameter).max(50) });

export async function PUT(request: Request) {
  return answer(request, { mayEdit: true }, async ({ siteId }) => {
    const { consent, keptParameters } = await bodyAs(request, privacySchema);
    await setPrivacy(pool(), siteId, { consent, keptParameters: [...new Set(keptParameters)] });
  });
}
