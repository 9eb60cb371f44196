let known: string | undefined;

/** What there is a quick way to: elsewhere a browser reads its calendars first, longer than all of ours takes. */
export const quickZone = (): string | undefined =>
  (known ??= (window as Window & { Temporal?: { Now: { timeZoneId: () => string } } }).Temporal?.Now.timeZoneId());

export const readZone = (): string => (known ??= Intl.DateTimeFormat().resolvedOptions().timeZone);
