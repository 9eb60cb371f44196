import { textOf } from './textOf';

test('the order of ids does not matter, what stands under them does, and so does which vocabulary it is in', () => {
  const one = { b: { path: '/b' }, a: { path: '/a' } };
  expect(textOf(one, undefined)).toBe(textOf({ a: { path: '/a' }, b: { path: '/b' } }, {}));
  const others = [textOf({ ...one, a: { path: '/c' } }, undefined), textOf({ a: one.a }, { b: one.b }), textOf(undefined, one)];
  expect(new Set([textOf(one, undefined), ...others]).size).toBe(4);
});
