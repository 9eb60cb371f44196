/** The network address that a request came from, as the studio's server found it (`studio/main.ts`); what a browser says under that name is thrown away there. */
export const ADDRESS_HEADER = 'x-crindle-address';

/** Whether browsers reach the studio by HTTPS. */
export const isHttps = (): boolean => process.env['CRINDLE_HTTPS'] === '1' || (process.env['CRINDLE_STUDIO'] ?? '').startsWith('https://');
