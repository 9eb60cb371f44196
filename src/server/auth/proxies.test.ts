import type { IncomingMessage } from 'node:http';
import proxyaddr from 'proxy-addr';
import { trustOf } from './proxies';

const addressOf = (setting: string | undefined, socket: string, forwarded?: string): string =>
  proxyaddr(
    {
      headers: forwarded === undefined ? {} : { 'x-forwarded-for': forwarded },
      socket: { remoteAddress: socket },
    } as unknown as IncomingMessage,
    trustOf(setting),
  );

test.each([
  [undefined, '203.0.113.9', '1.1.1.1', '203.0.113.9'],
  ['', '203.0.113.9', '1.1.1.1', '203.0.113.9'],
  ['0', '203.0.113.9', '1.1.1.1', '203.0.113.9'],
  // What a client wrote itself stands to the left of what the proxy adds.
  ['1', '10.0.0.1', '1.1.1.1, 203.0.113.9', '203.0.113.9'],
  ['2', '10.0.0.1', '1.1.1.1, 203.0.113.9, 10.0.0.2', '203.0.113.9'],
  ['10.0.0.0/8, 127.0.0.1', '10.0.0.1', '1.1.1.1, 203.0.113.9, 10.0.0.2', '203.0.113.9'],
  ['10.0.0.0/8', '203.0.113.9', '1.1.1.1', '203.0.113.9'],
  ['1', '10.0.0.1', undefined, '10.0.0.1'],
])('trusting %s, %s with %s comes from %s', (setting, socket, forwarded, address) => {
  expect(addressOf(setting, socket, forwarded)).toBe(address);
});

test.each(['yes', '10.0.0.0/99', '12'])('%s is refused in words', (setting) => {
  expect(() => trustOf(setting)).toThrow(/CRINDLE_TRUST_PROXY: met/);
});
