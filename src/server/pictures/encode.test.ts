import sharp from 'sharp';
import { encodePicture } from './encode';
import { MOST_BYTES } from './refused';

const plain = (width: number, height: number, colour = '#2d4a43') => sharp({ create: { width, height, channels: 3, background: colour } });

test('a photograph is turned the right way up, made smaller, and tells nothing of where it was taken', async () => {
  const taken = await plain(4000, 1000)
    .jpeg()
    .withExif({ IFD0: { Make: 'Lantern', Copyright: 'Nobody' }, IFD3: { GPSLatitude: '47/1 0/1 0/1' } })
    .withMetadata({ orientation: 6 })
    .toBuffer();
  expect((await sharp(taken).metadata()).exif).toBeDefined();
  const { bytes, width, height, hash } = await encodePicture(taken);
  expect([width, height]).toEqual([480, 1920]);
  const met = await sharp(bytes).metadata();
  expect([met.format, met.width, met.height, met.exif, met.orientation]).toEqual(['webp', 480, 1920, undefined, undefined]);
  expect(bytes.includes('Lantern')).toBe(false);
  expect(hash).toMatch(/^[\w-]{22}$/);
  expect((await encodePicture(taken)).hash).toBe(hash);
  expect((await encodePicture(await plain(10, 10, '#ffffff').png().toBuffer())).hash).not.toBe(hash);
});

test('what it is, is told from its bytes and not from its name', async () => {
  for (const format of ['png', 'jpeg', 'webp', 'gif', 'avif', 'tiff'] as const)
    expect(await encodePicture(await plain(20, 10).toFormat(format).toBuffer())).toMatchObject({ width: 20, height: 10 });
});

test.each([
  ['nothing at all', Buffer.alloc(0), 'picture.empty'],
  ['a text', Buffer.from('GIF? no'), 'picture.unreadable'],
  [
    'a program in a picture',
    Buffer.from('<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><script>alert(1)</script></svg>'),
    'picture.svg',
  ],
  ['a page', Buffer.from('<!doctype html><script>alert(1)</script>'), 'picture.unreadable'],
  ['fifty megabytes', Buffer.alloc(50 * 1024 * 1024), 'picture.tooLarge'],
])('%s is refused with its reason', async (_what, bytes, code) => {
  await expect(encodePicture(bytes)).rejects.toMatchObject({ code });
});

test('one that ends in the middle, and one that is small as a file and huge once opened', async () => {
  const whole = await plain(800, 800).png().toBuffer();
  await expect(encodePicture(whole.subarray(0, whole.length >> 1))).rejects.toMatchObject({ code: 'picture.damaged' });
  const huge = await sharp({ create: { width: 9000, height: 9000, channels: 3, background: '#fff' }, limitInputPixels: false })
    .png({ compressionLevel: 9 })
    .toBuffer();
  expect(huge.length).toBeLessThan(MOST_BYTES);
  await expect(encodePicture(huge)).rejects.toMatchObject({ code: 'picture.tooManyPixels' });
});
