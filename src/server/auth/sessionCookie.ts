import { isHttps } from '../http/address';

/** Over HTTPS a name that no other host of the domain can set a cookie by. */
export const SESSION_COOKIE = isHttps() ? '__Host-crindle_session' : 'crindle_session';
