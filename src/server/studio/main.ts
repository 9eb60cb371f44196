import { createServer } from 'node:http';
import type { IncomingMessage } from 'node:http';
import next from 'next';
import proxyaddr from 'proxy-addr';
import { trustOf } from '../auth/proxies';
import { ADDRESS_HEADER, isHttps } from '../http/address';
import { cannotStart } from '../http/ports';

const port = Number(process.env['PORT'] ?? 4700);
const host = process.env['HOST'] ?? '127.0.0.1';
const trusts = trustOf(process.env['CRINDLE_TRUST_PROXY']);
/** Nothing that the studio takes is larger; each request says by itself how much less it takes. */
const MOST_BYTES = 32 * 1024 * 1024;

const app = next({ dev: false, hostname: host, port });
await app.prepare();
const handle = app.getRequestHandler();

/** What is known of where a request came from is said by us alone. */
function mark(request: IncomingMessage): void {
  request.headers[ADDRESS_HEADER] = proxyaddr(request, trusts);
  for (const name of Object.keys(request.headers))
    if (name.startsWith('x-forwarded-') || name === 'forwarded') delete request.headers[name];
  // Next would ask a client's word for it.
  request.headers['x-forwarded-proto'] = isHttps() ? 'https' : 'http';
}

/** Whether an address can be read: what no letter is encoded by would be a fault further in, and so would the zero that no text may hold. */
function isReadable(address: string): boolean {
  try {
    decodeURIComponent(address.split('?', 1)[0] ?? '');
    return !address.includes('%00');
  } catch {
    return false;
  }
}
const METHODS = ['GET', 'HEAD', 'POST', 'PUT', 'PATCH', 'DELETE', 'OPTIONS'];

const server = createServer(
  { keepAliveTimeout: 75_000, headersTimeout: 20_000, requestTimeout: 120_000, maxHeaderSize: 16 * 1024 },
  (request, response) => {
    const refuse = (status: number, code: string, message: string): void => {
      response.writeHead(status, { 'content-type': 'application/json', connection: 'close' });
      response.end(JSON.stringify({ error: { code, message } }));
    };
    if (!(Number(request.headers['content-length'] ?? 0) <= MOST_BYTES))
      return refuse(413, 'body.tooLarge', 'The request is larger than anything the studio takes');
    if (!isReadable(request.url ?? ''))
      return refuse(400, 'address.malformed', 'The address holds a percent sign that stands for no letter');
    if (!METHODS.includes(request.method ?? '')) return refuse(405, 'route.method', 'Nothing is asked here in that way');
    mark(request);
    if (isHttps()) response.setHeader('strict-transport-security', 'max-age=63072000; includeSubDomains');
    handle(request, response).catch((cause: unknown) => {
      console.error(cause);
      if (!response.headersSent) response.writeHead(500);
      response.end();
    });
  },
);
server.on('error', (cause) => cannotStart('studio', port, cause));
server.listen(port, host);
for (const signal of ['SIGTERM', 'SIGINT'] as const)
  process.once(signal, () => {
    // Streams would go on for ever; whoever listens comes again.
    server.close(() => process.exit(0));
    server.closeIdleConnections();
    setTimeout(() => process.exit(0), 2000).unref();
  });
