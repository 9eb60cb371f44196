import { createDice } from '@/core/random/dice';
import { createMember } from '@/server/db/members';
import { MOST_CODES_AN_HOUR } from '@/server/auth/attempts';
import { newFactor, setFactor } from '@/server/auth/secondFactor';
import { hashPassword } from '@/server/auth/password';
import { signIn, signInByCode } from '@/server/auth/signIn';
import { sized } from '../../sized';
import type { Wrongs } from '../ground';
import { inWords, makeSite } from '../ground';

const TICKETS = sized(400, 30);
const GUESSES = 8;
const NOW = Date.UTC(2026, 5, 1);

/** Somebody has a password and begins anew for more codes, from everywhere at once: no more codes are looked at than one member has an hour. */
export async function runGuesses(): Promise<Wrongs> {
  process.env['CRINDLE_SECRET_KEY'] ??= Buffer.alloc(32, 9).toString('base64');
  const { pool } = await makeSite();
  const email = 'owner@faults.example';
  const memberId = await createMember(pool, { email, name: 'Owner', passwordHash: await hashPassword('lantern-col-9') });
  await setFactor(pool, { memberId, secret: newFactor(email).secret, step: 0 });
  const dice = createDice('guesses');
  const told = new Map<string, number>();
  const count = (what: string): void => void told.set(what, (told.get(what) ?? 0) + 1);
  for (let begun = 0; begun < TICKETS; begun += 4)
    await Promise.all(
      Array.from({ length: 4 }, async (_, nth) => {
        const address = `198.51.${begun % 200}.${nth + 1}`;
        const half = await signIn(pool, { email, password: 'lantern-col-9', address });
        count(half.kind === 'code' ? 'tickets' : half.kind);
        if (half.kind !== 'code') return;
        await Promise.all(
          Array.from({ length: GUESSES }, async () => {
            const code = String(dice.between(0, 999_999)).padStart(6, '0');
            count(`code ${(await signInByCode(pool, { ticket: half.ticket, code, now: NOW, address })).kind}`);
          }),
        );
      }),
    );
  await pool.end();
  const looked = told.get('code wrong') ?? 0;
  console.log(
    `guesses: ${inWords(told.get('tickets') ?? 0)} tickets by a password that is known, ${GUESSES} codes for each at once; looked at were ${looked}, ${[...told].map(([what, times]) => `${what} ${inWords(times)}`).join(', ')}`,
  );
  return [
    ...(told.has('code in') ? ['Somebody got in'] : []),
    ...(looked > MOST_CODES_AN_HOUR ? [`${looked} codes were looked at, expected ${MOST_CODES_AN_HOUR} at most`] : []),
  ];
}
