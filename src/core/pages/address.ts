/** What page patterns can ask of one page. Unknown parts are undefined. */
export interface Page {
  readonly url: string;
  readonly title?: string | undefined;
  readonly labels?: readonly string[] | undefined;
}

export interface Address {
  /** Decoded, single slashes, no trailing slash, lower case. */
  readonly path: string;
  readonly host: string;
  /** Host, path and query as written, lower case. */
  readonly address: string;
  readonly fragment: string;
  readonly parameters: URLSearchParams;
}

/** Percent-decodes as UTF-8; whatever is not a valid sequence is left as it is. */
export function decodeLeniently(text: string): string {
  return text.replace(/(?:%[0-9a-f]{2})+/gi, decodeRun);
}

function decodeRun(run: string): string {
  try {
    return decodeURIComponent(run);
  } catch {
    // One broken byte must not spoil its neighbours: take the longest valid character at each place.
    for (let length = 3; length <= Math.min(12, run.length); length += 3) {
      try {
        return decodeURIComponent(run.slice(0, length)) + decodeRun(run.slice(length));
      } catch {
        continue;
      }
    }
    return run.slice(0, 3) + (run.length > 3 ? decodeRun(run.slice(3)) : '');
  }
}

export function normalisePath(path: string): string {
  const single = decodeLeniently(path).replace(/\/+/g, '/').toLowerCase();
  return single.length > 1 && single.endsWith('/') ? single.slice(0, -1) : single;
}

/** Undefined where the text is no absolute address. */
export function parseAddress(text: string): Address | undefined {
  let url: URL;
  try {
    url = new URL(text);
  } catch {
    return undefined;
  }
  return {
    path: normalisePath(url.pathname),
    host: url.host.toLowerCase(),
    address: (url.host + url.pathname + url.search).toLowerCase(),
    fragment: decodeLeniently(url.hash.slice(1)).toLowerCase(),
    parameters: url.searchParams,
  };
}

const parsed = new WeakMap<Page, { address: Address | undefined }>();

/** The same page object is parsed once. */
export function addressOf(page: Page): Address | undefined {
  let entry = parsed.get(page);
  if (!entry) {
    entry = { address: parseAddress(page.url) };
    parsed.set(page, entry);
  }
  return entry.address;
}
