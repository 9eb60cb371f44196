/** Whether what was typed may be an email: an at sign between something and something, no blanks, no longer than one can be (RFC 5321). */
export const isEmailTyped = (text: string): boolean => text.length <= 320 && /^[^\s@]+@[^\s@]+$/.test(text);

export const NO_EMAIL = (met: string): string => `Email: met “${met.slice(0, 100)}”, expected an address such as you@example.com`;
