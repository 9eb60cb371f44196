/** Does a list of names allow a parameter? "utm_*" allows every name that begins with "utm_". */
export function isAllowed(name: string, allowed: readonly string[]): boolean {
  return allowed.some((one) => (one.endsWith('*') ? name.startsWith(one.slice(0, -1)) : one === name));
}

/**
 * An address with no other parameters than those allowed, in the order they stood. Text that is no address is given back up
 * to its first question mark. A route in the fragment keeps its own parameters by the same list, and so does one that
 * is written as they are: what somebody was let in with stands there.
 */
export function keepParameters(url: string, allowed: readonly string[]): string {
  const hash = url.indexOf('#');
  const [address, fragment] = hash < 0 ? [url, ''] : [url.slice(0, hash), url.slice(hash)];
  return kept(address, allowed) + keptOf(fragment, allowed);
}

function keptOf(fragment: string, allowed: readonly string[]): string {
  if (/^#!?\//.test(fragment)) return kept(fragment, allowed);
  return fragment.includes('=')
    ? kept(`#?${fragment.slice(1)}`, allowed)
        .replace('#?', '#')
        .replace(/^#$/, '')
    : fragment;
}

function kept(text: string, allowed: readonly string[]): string {
  const cut = text.indexOf('?');
  if (cut < 0) return text;
  const pairs = text
    .slice(cut + 1)
    .split('&')
    .filter((pair) => pair !== '' && isAllowed(nameOf(pair), allowed));
  return text.slice(0, cut) + (pairs.length ? `?${pairs.join('&')}` : '');
}

function nameOf(pair: string): string {
  const name = (pair.split('=')[0] ?? '').replaceAll('+', ' ');
  try {
    return decodeURIComponent(name);
  } catch {
    return name; // Not encoded properly: taken as it stands.
  }
}
