import { UnknownVersion, upgrade } from './upgrade';

const steps = [
  { name: 'renameSeconds', from: 1, apply: ({ secs, ...rest }: Readonly<Record<string, unknown>>) => ({ ...rest, seconds: secs }) },
  { name: 'secondsToList', from: 2, apply: ({ seconds, ...rest }: Readonly<Record<string, unknown>>) => ({ ...rest, seconds: [seconds] }) },
];

test('steps are applied in order from the stored version on', () => {
  expect(upgrade({ secs: 5 }, steps, 3)).toEqual({ seconds: [5], version: 3 });
  expect(upgrade({ version: 2, seconds: 5 }, steps, 3)).toEqual({ seconds: [5], version: 3 });
  expect(upgrade({ version: 3, seconds: [5] }, steps, 3)).toEqual({ version: 3, seconds: [5] });
});

test.each([4, 0, 1.5, 'two'])('a document of version %p is refused, not guessed at', (version) => {
  expect(() => upgrade({ version }, steps, 3)).toThrow(UnknownVersion);
});
