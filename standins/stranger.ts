import type { Server } from 'node:https';
import { createServer } from 'node:https';
import { generate } from 'selfsigned';

/** The name that its certificate is of, which is never the one that it is reached by. */
export const STRANGER_NAME = 'somebody-else.example';

/** A service that answers by HTTPS with a certificate of another name: whatever is sent there must not arrive. */
export async function createStranger(): Promise<{ readonly server: Server; readonly certificate: string; readonly asked: () => number }> {
  const { private: key, cert } = await generate([{ name: 'commonName', value: STRANGER_NAME }], {
    keyType: 'ec',
    extensions: [{ name: 'subjectAltName', altNames: [{ type: 2, value: STRANGER_NAME }] }],
  });
  let asked = 0;
  const server = createServer({ key, cert }, (_request, response) => {
    asked++;
    response.setHeader('content-type', 'application/json');
    response.end('{"ok":true}');
  });
  return { server, certificate: cert, asked: () => asked };
}
