import { completionOf, nameOf, waitWords } from './words';

test.each([
  [0, '0:00'],
  [36_400, '0:36'],
  [1_164_000, '19:24'],
  [7_500_000, '2 h 05'],
  [3 * 86_400_000, '3 days'],
  [-5, '0:00'],
])('%s ms of waiting are %s', (ms, words) => expect(waitWords(ms)).toBe(words));

test('whoever has no email is their number', () => {
  expect([nameOf({ email: null, visitor: 7 }), nameOf({ email: 'a@b.example', visitor: 7 })]).toEqual(['visitor 7', 'a@b.example']);
});

test('a saved answer is completed by its beginning, or by its name', () => {
  const saved = [
    { name: 'winter room', text: 'The winter room next door sleeps six.' },
    { name: 'dogs', text: 'Dogs are welcome in the shelter.' },
  ];
  expect(completionOf('The winter', saved)?.name).toBe('winter room');
  expect(completionOf('the WINTER', saved)?.name).toBe('winter room');
  expect(completionOf('do', saved)?.name).toBe('dogs');
  expect(completionOf('d', saved)).toBeUndefined();
  expect(completionOf('The winter room next door sleeps six.', saved)).toBeUndefined();
  expect(completionOf('', saved)).toBeUndefined();
});
