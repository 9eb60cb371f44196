import { GUIDE, stepFromPreference } from './steps';

test('the guide begins by itself, goes on where it stood, and stays away once it was left', () => {
  expect(stepFromPreference(undefined)).toBe(0);
  expect(stepFromPreference('3')).toBe(3);
  for (const kept of ['left', '', '-1', '1.5', String(GUIDE.length), '99']) expect(stepFromPreference(kept)).toBeUndefined();
});
