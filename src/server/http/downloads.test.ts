import { csvResponse, harmless } from './downloads';

test.each([
  ['=1+1', "'=1+1"],
  ['-5', "'-5"],
  ['\t=1', "'\t=1"],
  ['  @sum', "'  @sum"],
  ['fine\n=cmd', "fine\n'=cmd"],
  ['fine\r\n +1', "fine\r\n' +1"],
  ['a=b, c-d', 'a=b, c-d'],
  ['', ''],
])('%j is written as %j', (text, written) => expect(harmless(text)).toBe(written));

test('neither headings nor cells of a table are run by a spreadsheet', async () => {
  const rows = async function* () {
    yield ['@x', 'plain\n=2'];
  };
  expect(await csvResponse('x.csv', ['=name', 'note'], rows()).text()).toBe(`'=name,note\r\n'@x,"plain\n'=2"\r\n`);
});
