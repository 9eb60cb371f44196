/** Of the file of a picture. */
export const MOST_BYTES = 5 * 1024 * 1024;

/** Why a file is not taken as a picture. */
export class PictureRefused extends Error {
  constructor(
    readonly code: string,
    message: string,
  ) {
    super(message);
  }
}
