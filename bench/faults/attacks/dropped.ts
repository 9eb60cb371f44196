import { connect } from 'node:net';
import { freePort } from '@/server/testing/freePort';
import { startCollector } from '../../ground';
import { sized } from '../../sized';
import type { Wrongs } from '../ground';
import { inWords, makeSite, ORIGIN, send } from '../ground';

const DROPPED = sized(5_000, 200);
const TOGETHER = 50;

/** Says that 5,000 bytes come, sends seven and hangs up. */
const dropOne = (port: number): Promise<void> =>
  new Promise((resolve) => {
    const socket = connect(port, '127.0.0.1', () => {
      socket.write(
        `POST /c HTTP/1.1\r\nHost: x\r\nOrigin: ${ORIGIN}\r\nContent-Type: text/plain\r\nContent-Length: 5000\r\n\r\n{"key":`,
        () => socket.resetAndDestroy(),
      );
    });
    socket.on('error', () => undefined);
    socket.on('close', () => resolve());
  });

/** Whoever hangs up in the middle of a request turns `/health` red for nobody. */
export async function runDropped(): Promise<Wrongs> {
  const { url, pool } = await makeSite();
  const collector = await startCollector(url, await freePort());
  const { port } = collector;
  let left = DROPPED;
  let isOver = false;
  let [asked, red, longest] = [0, 0, 0];
  const looking = (async () => {
    while (!isOver) {
      const { status, ms } = await send(port, { path: '/health', method: 'GET' });
      asked++;
      longest = Math.max(longest, ms);
      if (status !== 200) red++;
    }
  })();
  await Promise.all(
    Array.from({ length: TOGETHER }, async () => {
      while (left-- > 0) await dropOne(port);
    }),
  );
  isOver = true;
  await looking;
  collector.process.kill('SIGKILL');
  await pool.end();
  console.log(
    `dropped: ${inWords(DROPPED)} requests that hang up in the middle; /health, asked ${inWords(asked)} times beside them, was red ${inWords(red)} times and took ${inWords(longest)} ms at most`,
  );
  return red > 0 ? [`/health was red ${red} times of ${asked}`] : [];
}
