import { isUuid, uuid7 } from './uuid';

test('begins with the time, and says its version and variant', () => {
  const now = 0x0192_3456_789a;
  const id = uuid7(now);
  expect(id).toMatch(/^01923456-789a-7[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/);
  expect(uuid7(now)).not.toBe(id);
  expect(uuid7(now + 1) > id).toBe(true);
});

test('is an id where the page has replaced Array.from by one that knows no second argument', () => {
  const from = jest.spyOn(Array, 'from').mockImplementation(((given: Iterable<unknown>) => [...given]) as typeof Array.from);
  const id = uuid7(Date.UTC(2026, 10, 26));
  from.mockRestore();
  expect(isUuid(id)).toBe(true);
  expect(isUuid('019a,0,0')).toBe(false);
  expect(isUuid(undefined)).toBe(false);
});
