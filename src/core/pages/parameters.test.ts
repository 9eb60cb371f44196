import { keepParameters } from './parameters';

test.each([
  ['https://s.example/a?utm_source=x&token=secret&utm_medium=y', ['utm_*'], 'https://s.example/a?utm_source=x&utm_medium=y'],
  ['https://s.example/a?token=secret', ['utm_*'], 'https://s.example/a'],
  ['https://s.example/a?token=secret#water', [], 'https://s.example/a#water'],
  ['https://s.example/a?day=2&day=3&q=', ['day', 'q'], 'https://s.example/a?day=2&day=3&q='],
  ['https://s.example/a?%75tm_source=x', ['utm_source'], 'https://s.example/a?%75tm_source=x'],
  ['https://s.example/a?%zz=1', ['%zz'], 'https://s.example/a?%zz=1'],
  ['https://s.example/#/huts?token=1&hut=2', ['hut'], 'https://s.example/#/huts?hut=2'],
  ['https://s.example/in#access_token=secret&state=9', ['tab'], 'https://s.example/in'],
  ['https://s.example/in?tab=1#id_token=secret&tab=prices', ['tab'], 'https://s.example/in?tab=1#tab=prices'],
  ['no address?email=x', [], 'no address'],
  ['https://s.example/a', ['utm_*'], 'https://s.example/a'],
])('%s with %j allowed is kept as %s', (url, allowed, kept) => {
  expect(keepParameters(url, allowed)).toBe(kept);
});
