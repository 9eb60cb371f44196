// The line for each way in which a site takes scripts.

export interface ForSite {
  /** The collector's address without a slash at the end. */
  readonly collector: string;
  readonly siteKey: string;
  /** Visitors are recorded only once they have agreed. */
  readonly asks: boolean;
}

export const WAYS = ['plain', 'tool', 'singlePage', 'own', 'policy', 'stub'] as const;
export type Way = (typeof WAYS)[number];

/** A tag's attributes; what is in quotes can be nothing but text. */
const escaped = (text: string): string => text.replace(/&/g, '&amp;').replace(/"/g, '&quot;').replace(/</g, '&lt;');

const tag = (src: string, { siteKey, asks }: ForSite, more = ''): string =>
  `<script async src="${escaped(src)}/page.js" data-site="${escaped(siteKey)}"${asks ? ' data-consent="ask"' : ''}${more}></script>`;

/** Calls made before the script has loaded wait in it, and its four lines may stand anywhere above. */
const STUB = `<script>
crindle={q:[]};["did","person","tag","score","consent","open","on","stop"].forEach(function(m){
  crindle[m]=function(){crindle.q.push([m].concat([].slice.call(arguments)))}})
</script>`;

/** What goes into the pages. `event`: what the site's own page changes are told by; `address`: where the site itself passes requests on. */
export function lineFor(way: Way, site: ForSite, { event = '', address = '' }: { event?: string; address?: string } = {}): string {
  const { collector, siteKey, asks } = site;
  switch (way) {
    case 'plain':
      return tag(collector, site);
    case 'tool':
      // Some tools make the element anew and leave its attributes out: then the line makes it itself.
      return `<script>(function(d){var s=d.createElement("script");s.async=true;s.src=${JSON.stringify(`${collector}/page.js`)};s.dataset.site=${JSON.stringify(siteKey)};${asks ? 's.dataset.consent="ask";' : ''}d.head.appendChild(s)})(document)</script>`;
    case 'singlePage':
      return tag(collector, site, event ? ` data-page-event="${escaped(event)}"` : '');
    case 'own':
      return tag(address.replace(/\/+$/, '') || collector, site);
    case 'policy':
      return tag(collector, site, ' nonce="NONCE OF THE RESPONSE"');
    case 'stub':
      return `${STUB}\n${tag(collector, site)}`;
  }
}

/** What a content security policy has to allow, besides what it allows already; the last tells the collector what a browser kept away all the same. */
export const policyFor = ({ collector, siteKey }: Pick<ForSite, 'collector' | 'siteKey'>): string =>
  `script-src ${collector}; connect-src ${collector}; img-src ${collector}; report-uri ${collector}/csp/${siteKey}`;

/** What a server of the site's own passes on to the collector where the script has an address of the site's. */
export const PASSED_ON = ['/page.js', '/try.js', '/parts/', '/r/', '/i/', '/c', '/check', '/try', '/csp/'] as const;

/** The text inside the stub's tag, of which a policy can have the hash. */
export const stubText = (): string => STUB.replace(/^<script>|<\/script>$/g, '');
