import { noteSecurity } from './securityLog';

test('what happened is one line of JSON whatever was typed, and no longer than it need be', () => {
  const lines: string[] = [];
  const info = jest.spyOn(console, 'info').mockImplementation((line: string) => void lines.push(line));
  noteSecurity({
    what: 'sign-in',
    result: 'wrong',
    who: `a@b.example\n{"security":true,"result":"in"}${'x'.repeat(900)}`,
    address: '10.0.0.1',
  });
  noteSecurity({ what: 'refused', result: 'viewer', who: 7, of: 'GET /leads.csv' });
  info.mockRestore();
  expect(lines).toHaveLength(2);
  expect(lines.every((line) => !line.includes('\n') && line.length < 600)).toBe(true);
  expect(lines.map((line) => JSON.parse(line) as unknown)).toMatchObject([
    { security: true, what: 'sign-in', result: 'wrong', who: expect.stringMatching(/^a@b/) as string, address: '10.0.0.1' },
    { security: true, what: 'refused', result: 'viewer', who: 7, of: 'GET /leads.csv' },
  ]);
});
