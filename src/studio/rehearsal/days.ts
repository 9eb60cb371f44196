/** The days that can be rehearsed; the same as the server's, which the browser does not load. */
export const REHEARSED = [7, 30, 90] as const;
