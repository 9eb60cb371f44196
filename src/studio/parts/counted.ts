/** "1 visit", "2,310 visits". */
export const counted = (count: number, one: string): string => `${count.toLocaleString('en-GB')} ${count === 1 ? one : `${one}s`}`;
