import type { Socket } from 'node:net';
import type { FastifyInstance } from 'fastify';
import { simpleParser } from 'mailparser';
import { SMTPServer } from 'smtp-server';
import type { Fault } from './faults';
import { arrived, page } from './page';

export interface ReceivedMail {
  readonly id: string;
  readonly from: string;
  readonly to: string;
  readonly subject: string;
  readonly text: string;
  readonly html: string | undefined;
  /** ISO. */
  readonly at: string;
  /** How often it came: the same id again is the same. */
  readonly times: number;
}

const MOST_KEPT = 20_000;
const MOST_BYTES = 10_000_000;
const SLOW_MS = 3000;

const refusal = (code: number, message: string): Error => Object.assign(new Error(message), { responseCode: code });

/** A mail server that delivers to nobody: what it takes can be read under `/outbox`, and as JSON under `/outbox.json`. The same message id again is one mail. */
export class Outbox {
  readonly #mails = new Map<string, ReceivedMail>();
  fault: Fault = { kind: 'none', address: '' };
  readonly #smtp = new SMTPServer({
    authOptional: true,
    disabledCommands: ['STARTTLS', 'AUTH'],
    size: MOST_BYTES,
    onRcptTo: ({ address }, _session, done) => {
      const { kind, address: refused } = this.fault;
      if (kind === 'refused') return done(refusal(550, 'Nobody is let in'));
      if (kind === 'one' && address.toLowerCase() === refused.toLowerCase()) return done(refusal(550, 'That address is not taken'));
      done();
    },
    onData: (stream, _session, done) => {
      void simpleParser(stream).then(
        ({ messageId, from, to, subject, text, html }) => {
          const { kind } = this.fault;
          if (kind === 'error') return done(refusal(451, 'Try again later'));
          if (kind === 'limit') return done(refusal(452, 'Too much mail at once'));
          const id = messageId ?? '';
          const mail = {
            id,
            from: from?.text ?? '',
            to: [to]
              .flat()
              .map((one) => one?.text ?? '')
              .join(', '),
            subject: subject ?? '',
            text: text ?? '',
            html: html === false ? undefined : html,
            at: new Date().toISOString(),
            times: (this.#mails.get(id)?.times ?? 0) + 1,
          };
          this.#mails.delete(id);
          this.#mails.set(id, mail);
          if (this.#mails.size > MOST_KEPT) this.#mails.delete(this.#mails.keys().next().value ?? '');
          setTimeout(done, kind === 'slow' ? SLOW_MS : 0);
        },
        (cause: unknown) => done(cause instanceof Error ? cause : new Error(String(cause))),
      );
    },
  });

  /** The newest first. */
  get mails(): readonly ReceivedMail[] {
    return [...this.#mails.values()].reverse();
  }

  /** Gives the port. */
  listen(port: number, host: string): Promise<number> {
    return new Promise((resolve, reject) => {
      // A connection that breaks ends nothing but itself.
      this.#smtp.on('error', (cause) => {
        reject(cause);
        console.error(`outbox: ${cause.message}`);
      });
      this.#smtp.server.prependListener('connection', (socket: Socket) => {
        if (this.fault.kind === 'drops') socket.destroy();
        if (this.fault.kind === 'nonsense') socket.end('<p>Under maintenance</p>\r\n');
      });
      const server = this.#smtp.listen(port, host, () => {
        const address = server.address();
        resolve(typeof address === 'object' && address ? address.port : port);
      });
    });
  }

  close(): Promise<void> {
    return new Promise((resolve) => this.#smtp.close(resolve));
  }

  serve(server: FastifyInstance): void {
    server.get('/outbox.json', () => this.mails);
    server.get('/outbox', (_request, reply) =>
      reply
        .type('text/html; charset=utf-8')
        .send(
          page(
            'Outbox',
            arrived(this.mails.map(({ from, to, subject, text, at }) => [`${subject} · ${at} · from ${from} · to ${to}`, text])),
          ),
        ),
    );
  }
}
