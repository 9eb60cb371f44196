/** One content security policy as directives and their sources, in lower case but for nonces and hashes. */
export type Policy = ReadonlyMap<string, readonly string[]>;

/** A header's or meta tag's policies: several may stand in one, with commas between them; all of them hold. */
export const parsePolicies = (text: string): Policy[] =>
  text
    .split(',')
    .map((one) => {
      const directives = new Map<string, string[]>();
      for (const part of one.split(';')) {
        const [name, ...sources] = part.trim().split(/\s+/);
        // Of a directive that is named twice the first counts.
        if (name && !directives.has(name.toLowerCase())) directives.set(name.toLowerCase(), sources);
      }
      return directives;
    })
    .filter((policy) => policy.size > 0);

/** Of which directive a kind of request asks, from the closest on. */
const FALLBACKS: Readonly<Record<Asked, readonly string[]>> = {
  'script-src': ['script-src-elem', 'script-src', 'default-src'],
  'connect-src': ['connect-src', 'default-src'],
};

export type Asked = 'script-src' | 'connect-src';

function matches(source: string, url: URL, page: URL): boolean {
  const lower = source.toLowerCase();
  if (lower === "'none'") return false;
  if (lower === '*') return /^(https?|wss?):$/.test(url.protocol);
  if (lower === "'self'") return url.origin === page.origin;
  if (/^[a-z][a-z0-9+.-]*:$/.test(lower)) return url.protocol === lower;
  const [, scheme, host = '', port, path = ''] = /^(?:([a-z][a-z0-9+.-]*):\/\/)?([^/:]+)(?::(\d+|\*))?(\/.*)?$/.exec(source) ?? [];
  if (!host || source.startsWith("'")) return false;
  // Without a scheme the page's own counts, and a safer one always does.
  const wanted = scheme ? `${scheme.toLowerCase()}:` : page.protocol;
  if (url.protocol !== wanted && !(wanted === 'http:' && url.protocol === 'https:')) return false;
  const isHost = host.startsWith('*.') ? url.hostname.endsWith(host.slice(1).toLowerCase()) : url.hostname === host.toLowerCase();
  const usual = url.protocol === 'https:' ? '443' : '80';
  const isPort = port === '*' || (port ?? usual) === (url.port || usual);
  const isPath = path === '' || path === '/' || (path.endsWith('/') ? url.pathname.startsWith(path) : url.pathname === path);
  return isHost && isPort && isPath;
}

/**
 * Does a policy let a page load this (CSP 3, https://www.w3.org/TR/CSP3/, 6.7.2)? `nonce`: of the tag that asks. A script that was let in by its nonce
 * may load further parts where the policy says strict-dynamic, or their address.
 */
export function allows(policy: Policy, asked: Asked, url: URL, { page, nonce }: { page: URL; nonce?: string | undefined }): boolean {
  const directive = FALLBACKS[asked].find((name) => policy.has(name));
  if (directive === undefined) return true;
  const sources = policy.get(directive) ?? [];
  const isStrict = asked === 'script-src' && sources.some((source) => source.toLowerCase() === "'strict-dynamic'");
  if (nonce && sources.includes(`'nonce-${nonce}'`)) return true;
  // Addresses count for nothing beside strict-dynamic.
  return !isStrict && sources.some((source) => matches(source, url, page));
}

export const isStrictDynamic = (policy: Policy): boolean =>
  ['script-src-elem', 'script-src', 'default-src'].some((name) =>
    policy.get(name)?.some((source) => source.toLowerCase() === "'strict-dynamic'"),
  );
