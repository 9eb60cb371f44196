import type { Message } from '../messages/message';
import { withOptionalEmail } from './edit';
import type { Flow } from './flow';
import { checkLooks } from './looks';

const flow = (given: object): Flow => ({
  start: 'a',
  messages: [{ id: 'a', format: 'popup', closes: { button: true, dim: true, escape: true }, blocks: [], ...given }],
});
const picture = (alt: string) => ({ kind: 'picture', src: '/p.webp', alt, width: 10, height: 10 });
const form = (required: boolean) => ({
  kind: 'form',
  fields: [{ kind: 'email', name: 'email', label: 'Your email', required }],
  submit: 'Send',
  thanks: 'Thanks',
});
const codes = (given: object, brand = {}, knowsEmail = false) => checkLooks(flow(given), brand, { knowsEmail }).map(({ code }) => code);

test.each([
  ['a dark colour', { colour: '#0b5d4e' }, {}, []],
  ['a pale one', { colour: '#e8d8a0' }, {}, ['look.pale']],
  ['a pale one of the brand', {}, { colour: '#e8d8a0' }, ['look.pale']],
  ['a dark one over a pale brand', { colour: '#0b5d4e' }, { colour: '#e8d8a0' }, []],
  ['a picture alone', { blocks: [picture(' ')] }, {}, ['look.noDescription']],
  ['a picture alone, described', { blocks: [picture('A hut')] }, {}, []],
  ['a picture that decorates a text', { blocks: [picture(''), { kind: 'text', text: 'Huts' }] }, {}, []],
  ['a value that is there', { blocks: [{ kind: 'text', text: '{site code}' }] }, { values: [{ name: 'code', text: 'X' }] }, []],
  ['a value that is not', { blocks: [{ kind: 'text', text: '{site code}' }] }, {}, ['look.missingValue']],
])('%s', (_what, given, brand, found) => expect(codes(given, brand)).toEqual(found));

test('who is known is not asked for their email once more, and one step mends it', () => {
  expect(codes({ blocks: [form(true)] }, {}, true)).toEqual(['look.asksForKnown']);
  expect(codes({ blocks: [form(true)] }, {}, false)).toEqual([]);
  const mended = withOptionalEmail(flow({ blocks: [{ kind: 'columns', start: [form(true)], end: [] }] }).messages[0] as Message);
  expect(codes(mended, {}, true)).toEqual([]);
});

test('the colour that is offered instead passes', () => {
  const [finding] = checkLooks(flow({ colour: '#e8d8a0' }), {}, { knowsEmail: false });
  expect(finding?.code === 'look.pale' && codes({ colour: finding.better })).toEqual([]);
});
