import { answerCheckSchema } from '@/core/wire/answerCheck';
import { isGoodAnswer } from './checkAnswer';

test.each([
  ['email', 'runa@post.example', undefined, true],
  ['email', ' runa@post.example ', undefined, true],
  ['email', 'runa@', undefined, false],
  ['email', 'runa@post', undefined, false],
  ['email', 'somebody@mailinator.com', undefined, false],
  ['email', 'somebody@MAILINATOR.com', undefined, false],
  ['phone', '+43 512 555 010', undefined, true],
  ['phone', '0512 555010', 'AT', true],
  ['phone', '0512 555010', undefined, false],
  ['phone', '0512 555010', 'ZZ', false],
  ['phone', '12', 'AT', false],
  ['phone', 'call me', 'AT', false],
] as const)('%s “%s” from %s: %s', (kind, value, country, good) => {
  const check = answerCheckSchema.parse(kind === 'phone' ? { kind, value, ...(country ? { country } : {}) } : { kind, value });
  expect(isGoodAnswer(check)).toBe(good);
});
