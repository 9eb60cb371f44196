import QRCode from 'qrcode';
import { beginFactor, endFactor, finishFactor } from '@/server/auth/account';
import { pool } from '@/server/db/sharedPool';
import { answer, bodyAs } from '@/server/http/api';
import { fromWhere } from '@/server/http/from';
import { factorSchema, ownPasswordSchema } from '@/server/http/requests';

/** A secret to put into an authenticator; nothing changes before a code of it is said. */
export async function POST(request: Request) {
  return answer(request, async (member) => {
    const { password } = await bodyAs(request, ownPasswordSchema);
    const { ticket, secret, uri } = await beginFactor(pool(), { member, password, address: (await fromWhere()).address });
    return { ticket, secret, picture: await QRCode.toDataURL(uri, { margin: 1, width: 220 }) };
  });
}

/** A code of it: from now on one is asked for. */
export async function PUT(request: Request) {
  return answer(request, async (member) => ({
    codes: await finishFactor(pool(), { member, now: Date.now(), ...(await bodyAs(request, factorSchema)) }),
  }));
}

export async function DELETE(request: Request) {
  return answer(request, async (member) => {
    const { password } = await bodyAs(request, ownPasswordSchema);
    await endFactor(pool(), { member, password, address: (await fromWhere()).address });
  });
}
