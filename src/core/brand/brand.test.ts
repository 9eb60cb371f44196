import type { Flow } from '../flows/flow';
import type { Message } from '../messages/message';
import type { Brand } from './brand';
import { branded, brandedFlow, brandSchema, missingValues } from './brand';

const popup = (given: Partial<Message> = {}): Message =>
  ({ id: 'a', format: 'popup', closes: { button: true, dim: true, escape: true }, blocks: [], ...given }) as Message;
const brand: Brand = { colour: '#123456', corners: 0, font: 'Alpine Sans', values: [{ name: 'Phone', text: '+43 512 1' }] };

test('a message takes the looks of the site where it has none of its own', () => {
  expect(branded(popup({ corners: 12 }), brand)).toMatchObject({ colour: '#123456', corners: 12, font: 'Alpine Sans' });
  expect(branded(popup(), {})).toEqual(popup());
});

test.each([
  ['Ring {site phone}', 'Ring +43 512 1'],
  ['Ring { Site_Phone , or us}', 'Ring +43 512 1'],
  ['{site fax, or by post}', 'by post'],
  ['{site fax}', '{site fax}'],
  ['{{site phone}}', '{{site phone}}'],
  ['{phone}', '{phone}'],
])('%s reads “%s”', (text, read) => {
  const flow: Flow = { start: 'a', messages: [popup({ blocks: [{ kind: 'text', text }] })] };
  expect(brandedFlow(flow, { values: brand.values }).messages[0]).toMatchObject({ blocks: [{ text: read }] });
});

test('a value stands wherever a message has a text: in numbers to ring, codes and addresses', () => {
  const message = popup({
    blocks: [{ kind: 'buttons', buttons: [{ label: 'Ring', does: [{ kind: 'phone', number: '{site phone}' }] }] }],
  });
  expect(JSON.stringify(branded(message, brand))).toContain('"number":"+43 512 1"');
});

test('what is named and is not there is missing, unless something is said instead', () => {
  expect(missingValues({ a: ['{site fax}', { b: '{site Phone} {site code, or none} {{site x}}' }] }, brand)).toEqual(['site fax']);
});

test.each<[object, string]>([
  [{ colour: 'red' }, 'colour'],
  [{ font: 'x;}' }, 'font'],
  [{ values: [{ name: 'a}', text: 'x' }] }, 'values'],
  [{ values: [{ name: 'a', text: 'x {b}' }] }, 'values'],
  [
    {
      values: [
        { name: 'a b', text: 'x' },
        { name: 'A_B', text: 'y' },
      ],
    },
    'values',
  ],
  [{ logo: { src: 'javascript:alert(1)', width: 1, height: 1, alt: '' } }, 'logo'],
])('%j is refused at its %s', (given, field) => {
  const { error } = brandSchema().safeParse(given);
  expect(error?.issues[0]?.path[0]).toBe(field);
});
