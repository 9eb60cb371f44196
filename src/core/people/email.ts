/** No list, no name beside it, no end of a line: what a mail server would read more out of is no address. */
const ONE = /^[^\s@,;:<>"()[\]\\\p{Cc}]{1,64}@[^\s@,;:<>"()[\]\\\p{Cc}]{1,255}$/u;

/** Whether a text is one email address. It is not asked whether anybody has it. */
export const isOneAddress = (text: string): boolean => ONE.test(text);
