import type { Refusal } from '@/server/http/api';
import type { Server, Told } from './rehearser';

/** The server's own words for why not. */
export class RefusedAnswer extends Error {}

const TOO_MANY = 413;

/** The studio's API, as a worker asks it. */
export const studioServer: Server = {
  visits: async (days) => {
    const response = await fetch(`/api/rehearse/visits?days=${days}`);
    if (response.status === TOO_MANY) return undefined;
    if (!response.ok) throw await refused(response);
    return { snapshot: (response.headers.get('etag') ?? '').replace(/^W\/|"/g, ''), bytes: new Uint8Array(await response.arrayBuffer()) };
  },
  answers: async (question, signal) => {
    const response = await fetch('/api/rehearse/answers', {
      method: 'POST',
      body: JSON.stringify(question),
      signal,
      headers: { 'content-type': 'application/json' },
    });
    if (!response.ok) throw await refused(response);
    return (await response.json()) as Told;
  },
};

async function refused(response: Response): Promise<Error> {
  const { error } = (await response.json()) as Refusal;
  return new RefusedAnswer(error.message);
}
