/**
 * What a site's server signs to say who a visitor is: the id, a line feed, and the email, each empty where it is not given. The
 * signature is HMAC-SHA-256 (RFC 2104) of this text's UTF-8 under the site's secret, in hexadecimal.
 */
export const signedText = ({ id = '', email = '' }: { readonly id?: string | undefined; readonly email?: string | undefined }): string =>
  `${id}\n${email}`;
