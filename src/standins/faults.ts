import type { FastifyReply } from 'fastify';

export const FAULTS = ['none', 'slow', 'error', 'limit', 'refused', 'nonsense'] as const;
export type Fault = (typeof FAULTS)[number];

const SLOW_MS = 3000;

/** Behaves badly on request, as outside services do. True where the answer has been given. */
export async function misbehave(fault: Fault, reply: FastifyReply): Promise<boolean> {
  switch (fault) {
    case 'none':
      return false;
    case 'slow':
      await new Promise((resolve) => setTimeout(resolve, SLOW_MS));
      return false;
    case 'error':
      await reply.code(500).send({ error: { code: 'internal', message: 'Something broke' } });
      return true;
    case 'limit':
      await reply
        .code(429)
        .header('retry-after', '60')
        .send({ error: { code: 'limit', message: 'Too many questions' } });
      return true;
    case 'refused':
      await reply.code(403).send({ error: { code: 'refused', message: 'No such key' } });
      return true;
    case 'nonsense':
      await reply.type('text/html').send('<p>Under maintenance</p>');
      return true;
  }
}
