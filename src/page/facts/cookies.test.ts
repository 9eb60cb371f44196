import { readCookies } from './cookies';
import { readOpenFacts } from './openFacts';

/** A document whose cookie store says this, or is closed. */
function documentWith(cookie: string | undefined): void {
  class Document {
    get cookie(): string {
      if (cookie === undefined) throw new DOMException('closed', 'SecurityError');
      return cookie;
    }
  }
  Object.assign(globalThis, { Document, document: new Document() });
}

test.each([
  ['', {}],
  ['plan=family; seen=yes', { plan: 'family', seen: 'yes' }],
  ['who=J%C3%B6rg%20K.', { who: 'Jörg K.' }],
  ['half=100%; odd=%zz', { half: '100%', odd: '%zz' }],
  ['a=b=c', { a: 'b=c' }],
  ['nameless', { '': 'nameless' }],
  ['__proto__=x', Object.defineProperty({}, '__proto__', { value: 'x', enumerable: true, configurable: true, writable: true })],
])('the cookies “%s” are %j', (cookie, read) => {
  documentWith(cookie);
  expect(readCookies()).toEqual(read);
});

test('where the cookie store is closed nothing is known of cookies', () => {
  documentWith(undefined);
  expect(readCookies()).toBeUndefined();
});

test('what the page says as it opens is the browser’s language, and its zone where there is a quick way to it', () => {
  Object.defineProperty(globalThis, 'navigator', { value: { language: 'de-AT' }, configurable: true });
  Object.assign(globalThis, { window: {} });
  expect(readOpenFacts()).toEqual({ language: 'de-AT', zone: undefined });
  Object.assign(globalThis, { window: { Temporal: { Now: { timeZoneId: () => 'Asia/Tokyo' } } } });
  expect(readOpenFacts()).toEqual({ language: 'de-AT', zone: 'Asia/Tokyo' });
});
