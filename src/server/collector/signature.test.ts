import { createHmac } from 'node:crypto';
import { objectionToPerson } from './signature';

const secret = 'kept on the server';
const sign = (text: string): string => createHmac('sha256', secret).update(text).digest('hex');
const required = { secret, isRequired: true };

test('where signatures are required, only who the site has signed is believed', () => {
  const [customerId, email] = ['m-17', 'walker@post.example'];
  expect(objectionToPerson({ customerId, email, signature: sign(`${customerId}\n${email}`) }, required)).toBeUndefined();
  expect(objectionToPerson({ email, signature: sign(`\n${email}`) }, required)).toBeUndefined();
  expect(objectionToPerson({ customerId, email }, required)).toContain('met none');
  // Of somebody else, of a part alone, cut, no hexadecimal at all.
  for (const signature of [sign(`m-18\n${email}`), sign(customerId), sign(`${customerId}\n${email}`).slice(2), 'zz', ''])
    expect(objectionToPerson({ customerId, email, signature }, required)).toContain('it is not of this id');
});

test('where they are not, a signature that is given has to be right all the same, and none is believed as before', () => {
  expect(objectionToPerson({ customerId: 'm-17' }, { secret, isRequired: false })).toBeUndefined();
  expect(objectionToPerson({ customerId: 'm-17', signature: sign('m-18\n') }, { secret, isRequired: false })).toContain(
    'it is not of this id',
  );
  expect(objectionToPerson({ customerId: 'm-17', signature: sign('m-17\n') }, { secret: null, isRequired: false })).toContain('no secret');
});

test('traits alone say who nobody is, and need no signature', () => {
  expect(objectionToPerson({}, required)).toBeUndefined();
});
