/** `bench --small` runs everything once on little data: figures mean nothing then, but what is measured still works. */
export const isSmall = process.argv.includes('--small');

export const sized = (whole: number, small: number): number => (isSmall ? small : whole);
