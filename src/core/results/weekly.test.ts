import { beginningIn, dueMonday, weekBefore, weeklyMail } from './weekly';

test('the mail of a Monday is due from seven in the morning on, where its reader is', () => {
  const due = (iso: string, zone = 'Europe/Vienna'): string => dueMonday(zone, Date.parse(iso));
  expect(due('2026-11-30T05:59:59Z')).toBe('2026-11-23');
  expect(due('2026-11-30T06:00:00Z')).toBe('2026-11-30');
  expect(due('2026-11-30T06:00:00Z', 'America/New_York')).toBe('2026-11-23');
  expect(due('2026-12-06T22:59:00Z')).toBe('2026-11-30');
  // Already Monday there, and still early.
  expect(due('2026-12-06T23:30:00Z')).toBe('2026-11-30');
  expect(due('2026-12-06T23:30:00Z', 'Pacific/Auckland')).toBe('2026-12-07');
});

test('a week is the seven days before, and its days begin where the clocks say so', () => {
  expect(weekBefore('2026-11-30')).toEqual({ from: '2026-11-23', to: '2026-11-29' });
  expect(new Date(beginningIn('Europe/Vienna', '2026-10-25')).toISOString()).toBe('2026-10-24T22:00:00.000Z');
  expect(new Date(beginningIn('Europe/Vienna', '2026-10-26')).toISOString()).toBe('2026-10-25T23:00:00.000Z');
  expect(new Date(beginningIn('UTC', '2026-11-01')).toISOString()).toBe('2026-11-01T00:00:00.000Z');
  expect(new Date(beginningIn('Pacific/Kiritimati', '2026-11-01')).toISOString()).toBe('2026-10-31T10:00:00.000Z');
  // Midnight is left out there on this day.
  expect(new Date(beginningIn('Africa/Cairo', '2026-04-24')).toISOString()).toBe('2026-04-23T22:00:00.000Z');
});

const WEEK = {
  site: 'Huts & Co',
  from: '2026-11-23',
  to: '2026-11-29',
  visits: [4200, 4000] as const,
  withMessage: 1300,
  goal: { name: 'Bookings', times: [310, 290] as const },
  campaigns: [
    {
      id: 'a',
      name: '<b>Basket</b>',
      met: 1200,
      rate: '4.1 % do “booking”',
      difference: '+1.7 points, somewhere between +0.2 and +3.1',
      isClear: true,
    },
  ],
  url: 'http://studio.example/results?days=7&x="y"',
};

test('a mail says the week beside the one before, and each campaign with its span; nothing of a name is markup', () => {
  const { subject, text, html } = weeklyMail(WEEK);
  expect(subject).toBe('Huts & Co, 23 November to 29 November: 310 bookings');
  expect(text).toContain('Bookings: 310 (290 the week before)\nVisits: 4,200 (4,000 the week before)');
  expect(text).toContain('<b>Basket</b>\n  1,200 met it, 4.1 % do “booking”\n  +1.7 points, somewhere between +0.2 and +3.1');
  expect(html).not.toContain('<b><b>');
  expect(html).toContain('&lt;b&gt;Basket&lt;/b&gt;');
  expect(html).toContain('href="http://studio.example/results?days=7&amp;x=&quot;y&quot;"');
});

test('a week in which nobody met anything, of a site without a goal, says so', () => {
  const { subject, text } = weeklyMail({ ...WEEK, goal: undefined, campaigns: [], visits: [0, 0] });
  expect(subject).toBe('Huts & Co, 23 November to 29 November: 0 visits');
  expect(text).toContain('Nobody met a campaign in this week.');
});
