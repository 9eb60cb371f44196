import sharp from 'sharp';
import { bounded } from './bounded';

const event = (rule: string): string =>
  [
    'BEGIN:VCALENDAR',
    'VERSION:2.0',
    'BEGIN:VEVENT',
    'UID:one',
    'DTSTART:20260501T090000Z',
    'DTEND:20260501T100000Z',
    rule,
    'END:VEVENT',
    'END:VCALENDAR',
  ]
    .filter((line) => line !== '')
    .join('\r\n');
const span = { from: Date.UTC(2026, 4, 1), to: Date.UTC(2026, 4, 8), zone: 'UTC' };
const wrong = (code: string, message: string): Error => Object.assign(new Error(message), { code });
const busy = (rule: string, ms?: number) => bounded('busyIn', [event(rule), span], wrong, ms);

test.each(['RRULE:FREQ=DAILY;BYMONTH=2;BYMONTHDAY=30', 'RRULE:FREQ=SECONDLY;BYMONTH=2;BYMONTHDAY=30'])(
  'a calendar that never ends is given up, and whoever asks meanwhile is answered: %s',
  async (rule) => {
    const endless = busy(rule, 500);
    const other = await busy('');
    expect(other).toEqual([[Date.UTC(2026, 4, 1, 9), Date.UTC(2026, 4, 1, 10)]]);
    await expect(endless).rejects.toMatchObject({ code: 'file.tooMuchWork', message: expect.stringContaining('0.5 seconds') as string });
    expect(await busy('')).toHaveLength(1);
  },
);

test('what a task refuses comes back with its code and words', async () => {
  await expect(bounded('busyIn', ['no calendar', span], wrong)).rejects.toMatchObject({ code: 'calendar.unreadable' });
  await expect(bounded('encodePicture', [Buffer.from('no picture'), {}], wrong)).rejects.toMatchObject({ code: 'picture.unreadable' });
});

test('a picture comes back as bytes; of strangers only what every camera makes is decoded', async () => {
  const plain = sharp({ create: { width: 40, height: 20, channels: 3, background: '#2d4a43' } });
  const tiff = await plain.clone().tiff().toBuffer();
  const made = await bounded('encodePicture', [await plain.png().toBuffer(), { widths: [] }], wrong);
  expect((await sharp(made.bytes).metadata()).format).toBe('webp');
  expect((await bounded('encodePicture', [tiff, {}], wrong)).width).toBe(40);
  await expect(bounded('encodePicture', [tiff, { kinds: 'common' }], wrong)).rejects.toMatchObject({ code: 'picture.format' });
});

test('where too many wait, whoever comes then is told to come again, and nobody else is', async () => {
  const asked = await Promise.allSettled(Array.from({ length: 60 }, () => busy('')));
  const refused = asked.filter((one) => one.status === 'rejected').map(({ reason }) => (reason as { code: string }).code);
  expect(refused.length).toBeGreaterThan(0);
  expect(new Set(refused)).toEqual(new Set(['file.busy']));
  expect(asked.length - refused.length).toBeGreaterThanOrEqual(50);
});
