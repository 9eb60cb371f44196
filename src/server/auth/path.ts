/** Where a request to the studio goes, as `proxy.ts` saw it; what a browser says under that name is thrown away there. */
export const PATH_HEADER = 'x-crindle-path';
/** Said to whoever may not open a screen. */
export const NO_ACCESS = '/no-access';
