import { asksForPrivacy, mayRecord } from './consent';

test.each([
  { choice: undefined, asks: false, signal: false, may: true },
  { choice: undefined, asks: true, signal: false, may: false },
  { choice: undefined, asks: false, signal: true, may: false },
  { choice: 'granted' as const, asks: true, signal: true, may: true },
  { choice: 'denied' as const, asks: false, signal: false, may: false },
])('choice $choice, asked for: $asks, privacy signal: $signal → recorded: $may', ({ choice, asks, signal, may }) => {
  expect(mayRecord(choice, asks, signal)).toBe(may);
});

test.each([
  [{ globalPrivacyControl: true }, true],
  [{ doNotTrack: '1' }, true],
  [{ globalPrivacyControl: false, doNotTrack: '0' }, false],
  [{}, false],
])('%j asks for privacy: %s', (browser, asks) => {
  expect(asksForPrivacy(browser)).toBe(asks);
});
