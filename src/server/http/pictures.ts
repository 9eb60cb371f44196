import { PictureRefused } from '../pictures/refused';
import { Refused } from './refused';

/** What is wrong with a picture, as an answer. */
export const refusedPicture = (cause: unknown): never => {
  throw cause instanceof PictureRefused ? new Refused(422, cause.code, cause.message) : cause;
};
