import { bounded } from '../bounded/bounded';
import type { EncodedPicture } from '../db/pictures';
import type { encodePicture } from './encode';
import { PictureRefused } from './refused';

/** As `encodePicture`, in a process of its own. @throws PictureRefused, OutOfBounds */
export const takePicture = (given: Buffer, how: Parameters<typeof encodePicture>[1] = {}): Promise<EncodedPicture> =>
  bounded('encodePicture', [given, how], (code, message) => new PictureRefused(code, message));
