import { uuid7 } from './uuid';

test('begins with the time, and says its version and variant', () => {
  const now = 0x0192_3456_789a;
  const id = uuid7(now);
  expect(id).toMatch(/^01923456-789a-7[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/);
  expect(uuid7(now)).not.toBe(id);
  expect(uuid7(now + 1) > id).toBe(true);
});
