import { addressSchema } from './bounds';

test.each([
  ['https://shop.example/huts', true],
  ['/huts', true],
  ['{site booking page}', true],
  ['{site booking page, or /book}', true],
  ['{site booking page, or https://shop.example/book}', true],
  ['javascript:alert(1)', false],
  ['//elsewhere.example/', false],
  ['{site x, or javascript:alert(1)}', false],
  ['{site x,or javascript:alert(1)}', false],
  ['{site x, or //elsewhere.example}', false],
  ['{site x, or }', false],
  ['{site x}javascript:alert(1)', false],
])('%s is an address: %s', (address, is) => {
  expect(addressSchema().safeParse(address).success).toBe(is);
});
