import { createHash } from 'node:crypto';
import sharp from 'sharp';
import type { EncodedPicture } from '../db/pictures';
import { MOST_BYTES, PictureRefused } from './refused';

/** A message is at most 960 wide; twice that looks sharp on fine screens. */
const LARGEST_SIDE = 1920;
/** Of smaller versions, for pictures that are seen small. */
const WIDTHS = [320, 640, 1120];
/** Some 50 megapixels: a picture that is small as a file can be huge once it is opened. */
const MOST_PIXELS = 50_000_000;
const QUALITY = 82;
/** What every camera and browser makes, by its first bytes: others are decoded by what is attacked more often, and only for the team. */
const COMMON: readonly ((bytes: Buffer) => boolean)[] = [
  (bytes) => bytes.subarray(0, 3).equals(Buffer.of(0xff, 0xd8, 0xff)),
  (bytes) => bytes.subarray(0, 8).equals(Buffer.of(0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a)),
  (bytes) => bytes.toString('latin1', 0, 4) === 'RIFF' && bytes.toString('latin1', 8, 12) === 'WEBP',
  (bytes) => /^GIF8[79]a/.test(bytes.toString('latin1', 0, 6)),
];
const TAKEN = ['jpeg', 'png', 'webp', 'gif', 'heif', 'avif', 'tiff'];

/**
 * A picture as WebP, turned the right way up, no larger than a message can show, without what a camera wrote into it (place, device).
 * `widths`: of smaller versions, in pixels; `kinds`: of a stranger, JPEG, PNG, WebP and GIF alone. What kind it is, is told from its bytes; of what moves the first frame is taken.
 * @throws PictureRefused
 */
export async function encodePicture(
  given: Buffer,
  { widths = WIDTHS, kinds = 'all' }: { widths?: readonly number[]; kinds?: 'common' | 'all' } = {},
): Promise<EncodedPicture> {
  if (given.length === 0) throw new PictureRefused('picture.empty', 'The file is empty');
  if (given.length > MOST_BYTES)
    throw new PictureRefused(
      'picture.tooLarge',
      `The file has ${megabytes(given.length)} MB; at most ${megabytes(MOST_BYTES)} MB are taken`,
    );
  if (kinds === 'common' && !COMMON.some((begins) => begins(given)))
    throw new PictureRefused('picture.format', 'The file is not a picture that can be read: JPEG, PNG, WebP or GIF is expected');
  const picture = sharp(given, { limitInputPixels: MOST_PIXELS, failOn: 'error' });
  const {
    format,
    width = 0,
    height = 0,
  } = await picture.metadata().catch((cause: unknown) => {
    if (/pixel limit/i.test(String(cause))) throw tooManyPixels();
    throw new PictureRefused(
      'picture.unreadable',
      'The file is not a picture that can be read: JPEG, PNG, WebP, GIF, AVIF or TIFF is expected',
    );
  });
  if (format === 'svg') throw new PictureRefused('picture.svg', 'An SVG may hold programs, so it is not taken; save it as PNG');
  if (!TAKEN.includes(format))
    throw new PictureRefused('picture.format', `The file is ${format}; JPEG, PNG, WebP, GIF, AVIF or TIFF is expected`);
  if (width * height > MOST_PIXELS) throw tooManyPixels();
  try {
    // Decoded once; what is smaller is made of that.
    const { data: pixels, info } = await picture
      .rotate()
      .resize({ width: LARGEST_SIDE, height: LARGEST_SIDE, fit: 'inside', withoutEnlargement: true })
      .raw()
      .toBuffer({ resolveWithObject: true });
    const raw = { width: info.width, height: info.height, channels: info.channels };
    const inWidth = async (wanted: number): Promise<Omit<EncodedPicture, 'sizes'>> => {
      const { data: bytes, info: made } = await sharp(pixels, { raw })
        .resize({ width: wanted, withoutEnlargement: true })
        .webp({ quality: QUALITY })
        .toBuffer({ resolveWithObject: true });
      return { hash: createHash('sha256').update(bytes).digest('base64url').slice(0, 22), width: made.width, height: made.height, bytes };
    };
    const sizes = [];
    for (const width of widths) if (width < info.width) sizes.push(await inWidth(width));
    return { ...(await inWidth(info.width)), sizes };
  } catch {
    throw new PictureRefused('picture.damaged', 'The picture is damaged: it begins as one and cannot be read to its end');
  }
}

const tooManyPixels = (): PictureRefused =>
  new PictureRefused('picture.tooManyPixels', 'The picture has more than 50 megapixels; make it smaller first');
const megabytes = (bytes: number): string => (bytes / 1024 / 1024).toFixed(1).replace(/\.0$/, '');
