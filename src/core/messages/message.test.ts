import { messageSchema, waysToClose } from './message';

const button = (url: string): unknown => ({ kind: 'button', label: 'Go', action: { kind: 'page', url } });
const message = (blocks: unknown[]): unknown => ({ format: 'popup', blocks, closes: { button: false, dim: false, escape: false } });

test.each([
  { url: '/offers', isGood: true },
  { url: 'https://tarnhollow.example/offers', isGood: true },
  { url: 'javascript:alert(1)', isGood: false },
  { url: '//elsewhere.example', isGood: false },
  { url: 'data:text/html,x', isGood: false },
])('a button may lead to $url: $isGood', ({ url, isGood }) => {
  expect(messageSchema.safeParse(message([button(url)])).success).toBe(isGood);
});

test('a message that nobody can leave is told', () => {
  expect(waysToClose(messageSchema.parse(message([])))).toEqual([]);
  expect(waysToClose(messageSchema.parse(message([button('/offers')])))).toEqual(['block']);
});
