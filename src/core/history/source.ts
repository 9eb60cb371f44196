import type { Channel, Source, Utm } from './visitor';

const PAID = ['cpc', 'ppc', 'paid', 'paidsearch', 'paidsocial', 'display'];
const EMAIL = ['email', 'newsletter'];
// Second-level names of well-known hosts; any country's ending counts.
const SOCIAL = /(^|\.)(facebook|instagram|linkedin|pinterest|reddit|tiktok|twitter|x|youtube|t)\.(com|co)$/;
const SEARCH = /(^|\.)(google|bing|duckduckgo|ecosia|qwant|yahoo|yandex|baidu|startpage|brave)\.[a-z.]{2,6}$/;

const UTM_KEYS = ['source', 'medium', 'campaign', 'term', 'content'] as const;

/** Where a visit came from, from its landing page and referrer. `ownHosts` are the site's addresses: coming from them is no referral. */
export function sourceOf({ url, referrer, ownHosts }: { url: string; referrer: string; ownHosts: readonly string[] }): Source {
  const utm: Record<string, string> = {};
  const parameters = safeUrl(url)?.searchParams;
  for (const key of UTM_KEYS) {
    const value = parameters?.get(`utm_${key}`);
    if (value) utm[key] = value;
  }
  const host = safeUrl(referrer)?.host.toLowerCase();
  const foreign = host && !ownHosts.includes(host) ? host : undefined;
  return { channel: channelOf(utm, foreign), utm, ...(foreign ? { referrer: foreign } : {}) };
}

function channelOf(utm: Utm, referrer: string | undefined): Channel {
  const medium = utm.medium?.toLowerCase() ?? '';
  if (PAID.includes(medium)) return 'paid';
  if (EMAIL.includes(medium)) return 'email';
  if (medium === 'social' || (referrer && SOCIAL.test(referrer))) return 'social';
  if (referrer && SEARCH.test(referrer)) return 'search';
  return referrer ? 'referral' : 'direct';
}

function safeUrl(text: string): URL | undefined {
  return URL.canParse(text) ? new URL(text) : undefined;
}
