import { isOneAddress } from './email';

test.each(['ines@tarnhollow.example', 'i+huts@a.b.example', 'jürgen@höhe.example', "o'neil@x.example", 'root@localhost'])(
  '%p is one address',
  (text) => expect(isOneAddress(text)).toBe(true),
);

test.each([
  '',
  'ines',
  'ines@',
  '@tarn.example',
  'a@b@c.example',
  'one@a.example, two@a.example',
  'one@a.example;two@a.example',
  'Ines <ines@a.example>',
  '"Ines" ines@a.example',
  'ines@a.example\nbcc: all@a.example',
  'ines@a.example\r',
  'ines @a.example',
  'in\u0000es@a.example',
  `${'x'.repeat(65)}@a.example`,
])('%p is not', (text) => expect(isOneAddress(text)).toBe(false));
