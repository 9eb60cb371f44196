import type { FastifyReply } from 'fastify';

export const FAULTS = ['none', 'slow', 'error', 'limit', 'refused', 'one', 'drops', 'nonsense'] as const;
export type FaultKind = (typeof FAULTS)[number];
export const FAULT_WORDS: Readonly<Record<FaultKind, string>> = {
  none: 'behaves',
  slow: 'answers after some seconds',
  error: 'answers 500',
  limit: 'answers 429, and asks for a minute',
  refused: 'refuses everything',
  one: 'refuses one address',
  drops: 'drops the connection',
  nonsense: 'answers a page in its place',
};

/** `address`: which one is refused, where it is one. */
export interface Fault {
  readonly kind: FaultKind;
  readonly address: string;
}

const SLOW_MS = 3000;

/** Behaves badly on request, as outside services do. True where the answer has been given. `isOf`: whether this is about an address. */
export async function misbehave(
  { kind, address }: Fault,
  reply: FastifyReply,
  isOf: (address: string) => boolean = () => false,
): Promise<boolean> {
  switch (kind) {
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
    case 'one':
      if (address === '' || !isOf(address)) return false;
      await reply.code(422).send({ error: { code: 'address', message: 'That address is not taken' } });
      return true;
    case 'drops':
      reply.hijack();
      reply.raw.destroy();
      return true;
    case 'nonsense':
      await reply.type('text/html').send('<p>Under maintenance</p>');
      return true;
  }
}
