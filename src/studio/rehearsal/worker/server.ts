import type { Refusal } from '@/server/api/serve';
import { addressOf, call } from '../../parts/net/call';
import type { Server } from './rehearser';

/** The server's own words for why not. */
export class RefusedAnswer extends Error {}

const TOO_MANY = 413;

/** The studio's API, as a worker asks it. */
export const studioServer: Server = {
  visits: async (days) => {
    const response = await fetch(addressOf('GET /api/rehearse/visits', { query: { days } }));
    if (response.status === TOO_MANY) return undefined;
    if (!response.ok) throw await refused(response);
    return { snapshot: (response.headers.get('etag') ?? '').replace(/^W\/|"/g, ''), bytes: new Uint8Array(await response.arrayBuffer()) };
  },
  answers: async (question, signal) => {
    const answer = await call('POST /api/rehearse/answers', { body: question, signal });
    if (!answer.ok) throw answer.code === 'network' ? new TypeError(answer.message) : new RefusedAnswer(answer.message);
    return answer.value;
  },
};

async function refused(response: Response): Promise<Error> {
  const { error } = (await response.json()) as Refusal;
  return new RefusedAnswer(error.message);
}
