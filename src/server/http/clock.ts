/** Server components read the clock here, once per request, and pass it on. */
export const requestTime = (): number => Date.now();
