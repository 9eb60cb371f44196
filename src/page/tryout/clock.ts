import { session } from './session';

/** In the place of `../clock`: UTC ms, as far ahead as was waited for or pretended. */
export const now = (): number => Date.now() + session().ahead;
