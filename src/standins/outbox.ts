import type { FastifyInstance } from 'fastify';
import { simpleParser } from 'mailparser';
import { SMTPServer } from 'smtp-server';

export interface ReceivedMail {
  readonly id: string;
  readonly from: string;
  readonly to: string;
  readonly subject: string;
  readonly text: string;
  readonly html: string | undefined;
  /** ISO. */
  readonly at: string;
}

const MOST_KEPT = 200;
const MOST_BYTES = 10_000_000;

/** A mail server that delivers to nobody: what it takes can be read under `/outbox`, and as JSON under `/outbox.json`. The same message id again is one mail. */
export class Outbox {
  readonly #mails: ReceivedMail[] = [];
  /** While it is out of order nothing is taken, for a while. */
  isOutOfOrder = false;
  readonly #smtp = new SMTPServer({
    authOptional: true,
    disabledCommands: ['STARTTLS', 'AUTH'],
    size: MOST_BYTES,
    onData: (stream, _session, done) => {
      void simpleParser(stream).then(
        ({ messageId, from, to, subject, text, html }) => {
          if (this.isOutOfOrder) return done(Object.assign(new Error('Try again later'), { responseCode: 451 }));
          const addressees = [to].flat().map((one) => one?.text ?? '');
          const mail = {
            id: messageId ?? '',
            from: from?.text ?? '',
            to: addressees.join(', '),
            subject: subject ?? '',
            text: text ?? '',
            html: html === false ? undefined : html,
            at: new Date().toISOString(),
          };
          const place = this.#mails.findIndex(({ id }) => id !== '' && id === mail.id);
          if (place >= 0) this.#mails.splice(place, 1);
          this.#mails.unshift(mail);
          this.#mails.splice(MOST_KEPT);
          done();
        },
        (cause: unknown) => done(cause instanceof Error ? cause : new Error(String(cause))),
      );
    },
  });

  get mails(): readonly ReceivedMail[] {
    return this.#mails;
  }

  /** Gives the port. */
  listen(port: number, host: string): Promise<number> {
    return new Promise((resolve, reject) => {
      this.#smtp.once('error', reject);
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
    server.get('/outbox.json', () => this.#mails);
    server.get('/outbox', (_request, reply) => reply.type('text/html; charset=utf-8').send(this.#page()));
  }

  #page(): string {
    const mails = this.#mails.map(
      ({ from, to, subject, text, at }) =>
        `<article><h2>${plain(subject)}</h2><p>${plain(at)} · from ${plain(from)} · to ${plain(to)}</p><pre>${plain(text)}</pre></article>`,
    );
    return `<!doctype html><html lang="en"><meta charset="utf-8"><title>Outbox</title><style>body{font:15px/1.5 system-ui,sans-serif;max-width:760px;margin:32px auto;padding:0 16px}article{border-top:1px solid #ccc}pre{white-space:pre-wrap}</style><h1>Outbox</h1>${mails.join('') || '<p>No mail has been sent yet.</p>'}</html>`;
  }
}

const ENTITIES: Readonly<Record<string, string>> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' };
const plain = (text: string): string => text.replace(/[&<>"]/g, (one) => ENTITIES[one] ?? one);
