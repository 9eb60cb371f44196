import type { Policy } from './policy';
import { allows, isStrictDynamic } from './policy';

export interface FoundScript {
  readonly where: 'head' | 'body';
  readonly attributes: Readonly<Record<string, string>>;
  readonly text: string;
}

/** A page as its server sends it, before any script has run. */
export interface LookedAt {
  /** Where it was found in the end. */
  readonly url: string;
  readonly status: number;
  readonly isHtml: boolean;
  readonly scripts: readonly FoundScript[];
  readonly policies: readonly Policy[];
}

export interface Finding {
  readonly kind: 'good' | 'off' | 'note';
  readonly code: string;
  readonly words: string;
}

export interface Expected {
  readonly collector: string;
  readonly siteKey: string;
  readonly siteName: string;
  readonly addresses: readonly string[];
  readonly asks: boolean;
  readonly hasRelease: boolean;
}

const good = (code: string, words: string): Finding => ({ kind: 'good', code, words });
const off = (code: string, words: string): Finding => ({ kind: 'off', code, words });
const note = (code: string, words: string): Finding => ({ kind: 'note', code, words });

const isOurs = ({ attributes: { src = '' }, text }: FoundScript): boolean =>
  /\/page\.js(\?|$)/.test(src) || (/\/page\.js\b/.test(text) && /dataset\.site/.test(text));

/** Whether the line stands in a page and how, with what is off and why. */
export function findingsOf(looked: LookedAt, expected: Expected): Finding[] {
  const { url, status, isHtml, scripts, policies } = looked;
  const page = new URL(url);
  if (status >= 400) return [off('page.status', `The page answered ${status}; nothing could be looked for.`)];
  if (!isHtml) return [off('page.notHtml', 'What is at the address is no HTML page.')];
  const findings: Finding[] = [];
  if (!expected.addresses.includes(page.host))
    findings.push(
      off(
        'page.address',
        `${page.host} is not one of the addresses of ${expected.siteName}: what the script sends from there is turned away. Add it below if it is yours.`,
      ),
    );
  const lines = scripts.filter(isOurs);
  const mine = lines.filter(
    ({ attributes, text }) => attributes['data-site'] === expected.siteKey || text.includes(JSON.stringify(expected.siteKey)),
  );
  const [line] = mine;
  if (!line) {
    const [other] = lines;
    findings.push(
      other
        ? off(
            'line.otherSite',
            `A line stands there, but of another site (${other.attributes['data-site'] ?? 'without a key'}); expected data-site="${expected.siteKey}".`,
          )
        : off(
            'line.missing',
            'The line does not stand in what the server sends. If another tool puts it in, only a browser sees it: open the page and look whether it is seen.',
          ),
    );
    return findings;
  }
  findings.push(
    good('line.there', `The line stands in the ${line.where}${line.attributes['src'] ? '' : ', in a script that puts it in'}.`),
  );
  if (mine.length > 1) findings.push(off('line.twice', `It stands there ${mine.length} times; the first works, the others do nothing.`));
  const src = line.attributes['src'] ?? /"([^"]*\/page\.js)"/.exec(line.text)?.[1] ?? `${expected.collector}/page.js`;
  const script = URL.canParse(src, url) ? new URL(src, url) : undefined;
  if (!script) return [...findings, off('line.src', `Its address cannot be read: ${src.slice(0, 100)}`)];
  if (page.protocol === 'https:' && script.protocol === 'http:')
    findings.push(off('line.insecure', 'The page is loaded over https and the script over http: browsers do not load it.'));
  if (script.origin !== new URL(expected.collector).origin)
    findings.push(note('line.ownAddress', `It is loaded from ${script.origin}, which has to pass it on to the collector.`));
  if (expected.asks && line.attributes['data-consent'] !== 'ask' && !/dataset\.consent/.test(line.text))
    findings.push(
      off(
        'line.consent',
        'This site records only those who have agreed, and the line lacks data-consent="ask": what the script sends before that is turned away.',
      ),
    );
  findings.push(...policyFindings(looked, { line, script, page }));
  if (policies.length === 0) findings.push(good('policy.none', 'The page has no content security policy.'));
  if (scripts.some(({ text }) => /crindle\s*=\s*\{\s*q\s*:/.test(text)))
    findings.push(good('stub.there', 'The stub that keeps early calls stands there, too.'));
  if (!expected.hasRelease) findings.push(note('release.none', 'No release is live: the script records, and shows nothing.'));
  return findings;
}

function policyFindings({ policies }: LookedAt, { line, script, page }: { line: FoundScript; script: URL; page: URL }): Finding[] {
  const nonce = line.attributes['nonce'];
  const parts = new URL('parts/any.js', script);
  const found = policies.flatMap((policy): Finding[] => {
    if (line.attributes['src'] && !allows(policy, 'script-src', script, { page, nonce }))
      return [
        off(
          'policy.script',
          `The page’s policy does not allow the script: add ${script.origin} to script-src${nonce ? ', or give the tag the right nonce' : ''}.`,
        ),
      ];
    // What the script loads itself has no nonce of its own.
    if (!isStrictDynamic(policy) && !allows(policy, 'script-src', parts, { page }))
      return [
        off(
          'policy.parts',
          `The page’s policy lets the script in by its nonce, but not the parts that it loads: add ${script.origin} to script-src.`,
        ),
      ];
    if (!allows(policy, 'connect-src', new URL('c', script), { page }))
      return [off('policy.connect', `The page’s policy does not let the script send anything: add ${script.origin} to connect-src.`)];
    return [];
  });
  if (found.length > 0 || policies.length === 0) return found.slice(0, 3);
  return [good('policy.allows', 'The page’s content security policy allows the script, its parts and what it sends.')];
}
