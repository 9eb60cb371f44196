import type { AddressInfo } from 'node:net';
import type { Server } from 'node:http';
import { createServer } from 'node:http';
import { createStranger } from '@/standins/stranger';
import { callOut } from './callOut';

let server: Server;
let base: string;
let written = 0;
beforeAll(async () => {
  server = createServer((request, response) => {
    switch (request.url ?? '') {
      case '/endless': {
        // A gigabyte, as fast as it is taken.
        const piece = Buffer.alloc(64 * 1024, 'x');
        const more = (): void => {
          while (written < 2 ** 30 && !response.destroyed) {
            written += piece.length;
            if (!response.write(piece)) return void response.once('drain', more);
          }
          response.end();
        };
        response.on('error', () => undefined);
        return more();
      }
      case '/elsewhere':
        return void response.writeHead(302, { location: `${base}/secret` }).end();
      case '/secret':
        return void response.end('secret');
      case '/drops':
        return void response.socket?.destroy();
      case '/half':
        response.writeHead(200, { 'content-length': '1000' });
        response.write('half');
        return void setTimeout(() => response.socket?.destroy(), 10);
      default:
        return void response.end(JSON.stringify(request.headers));
    }
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  base = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
});
afterAll(() => {
  server.closeAllConnections();
  server.close();
});
const call = (url: string, more: Partial<Parameters<typeof callOut>[0]> = {}) =>
  callOut({ url, method: 'GET', headers: {}, allowPrivate: true, ...more });

test('an answer of a gigabyte is cut, and the rest is not waited for', async () => {
  const { body } = await call(`${base}/endless`);
  expect(body.length).toBeLessThan(256 * 1024);
  expect(written).toBeLessThan(2 ** 29);
});

test('redirections are told, not followed', async () => {
  expect(await call(`${base}/elsewhere`)).toMatchObject({ status: 302, body: '' });
});

test('private networks are refused by whatever name, before anything is asked', async () => {
  const { port } = server.address() as AddressInfo;
  for (const host of [
    '127.0.0.1',
    'localhost',
    '[::1]',
    '[::ffff:127.0.0.1]',
    '0.0.0.0',
    '10.0.0.1',
    '169.254.169.254',
    '2130706433',
    '0x7f.1',
  ])
    await expect(call(`http://${host}:${port}/secret`, { allowPrivate: false })).rejects.toThrow(/private network/);
});

test('whatever breaks on the way is a reason in words', async () => {
  await expect(call(`${base}/drops`)).rejects.toMatchObject({ code: 'call.failed', isSlow: false });
  await expect(call(`${base}/half`)).rejects.toMatchObject({ code: 'call.failed' });
  await expect(call('http://127.0.0.1:1/')).rejects.toThrow(/ECONNREFUSED/);
});

test('with a certificate of another name nothing is sent', async () => {
  const stranger = await createStranger();
  await new Promise<void>((resolve) => stranger.server.listen(0, '127.0.0.1', resolve));
  const url = `https://127.0.0.1:${(stranger.server.address() as AddressInfo).port}/`;
  try {
    await expect(call(url)).rejects.toThrow(/certificate/);
    // Nor where whoever signed it is trusted: its name is another one.
    await expect(call(url, { trusts: stranger.certificate })).rejects.toThrow(/does not match certificate/);
    expect(stranger.asked()).toBe(0);
  } finally {
    stranger.server.close();
  }
});
