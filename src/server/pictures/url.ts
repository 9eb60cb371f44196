/** Where pages reach the collector. */
export const collectorUrl = (): string => (process.env['CRINDLE_COLLECTOR'] ?? 'http://127.0.0.1:4701').replace(/\/$/, '');

export const pictureUrl = (siteKey: string, hash: string): string => `${collectorUrl()}/i/${siteKey}/${hash}.webp`;
