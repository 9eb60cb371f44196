import { startHeaders } from './ownStart';

const before = process.env['CRINDLE_START'];
afterEach(() => {
  if (before === undefined) delete process.env['CRINDLE_START'];
  else process.env['CRINDLE_START'] = before;
});

test('a process answers to whoever started it, and to nobody else', () => {
  process.env['CRINDLE_START'] = 'mine';
  expect(startHeaders('mine')).toEqual({ 'x-crindle-start': 'yes' });
  for (const other of ['theirs', '', undefined, null]) expect(startHeaders(other)).toEqual({});
});

test('a process that nobody started by the shell command answers to nobody', () => {
  delete process.env['CRINDLE_START'];
  for (const asked of ['', 'undefined', undefined]) expect(startHeaders(asked)).toEqual({});
});
