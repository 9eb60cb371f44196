import { normalisePath } from './address';

// A wildcard is matched by following all positions at once, so that no pattern and no address,
// however hostile, takes more than (parts of the pattern) x (length of the address) steps.
type Part = { readonly text: string } | 'run' | 'any' | 'levels' | 'below';

const compiled = new Map<string, readonly Part[]>();

/**
 * Does the wildcard cover the whole text? `*` is any run without `/`, `**` any run at all, an inner `/**` with a slash
 * behind it any number of levels, and a pattern that ends in `/**` also covers the page above it.
 */
export function isLike(text: string, pattern: string): boolean {
  let parts = compiled.get(pattern);
  if (!parts) {
    parts = compile(normalisePath(pattern));
    if (compiled.size > 5000) compiled.clear();
    compiled.set(pattern, parts);
  }
  let open = new Uint8Array(text.length + 1);
  open[0] = 1;
  for (const part of parts) {
    const next = new Uint8Array(text.length + 1);
    step(part, { text, open, next });
    open = next;
  }
  return open[text.length] === 1;
}

function compile(pattern: string): Part[] {
  const parts: Part[] = [];
  let rest = pattern;
  while (rest !== '') {
    const wildcard = /^(?:(\/\*\*)+$|((?:\/\*\*)+\/)|(\*\*)|(\*)|([^*/]+|\/))/.exec(rest);
    if (!wildcard) break;
    if (wildcard[1]) parts.push('below');
    else if (wildcard[2]) parts.push('levels');
    else if (wildcard[3]) parts.push('any');
    else if (wildcard[4]) parts.push('run');
    else parts.push({ text: wildcard[0] });
    rest = rest.slice(wildcard[0].length);
  }
  return parts;
}

function step(part: Part, { text, open, next }: { text: string; open: Uint8Array; next: Uint8Array }): void {
  let running = false;
  for (let at = 0; at <= text.length; at++) {
    if (typeof part === 'object') {
      if (open[at] && text.startsWith(part.text, at)) next[at + part.text.length] = 1;
      continue;
    }
    if (part === 'levels') {
      if (running && text[at - 1] === '/') next[at] = 1;
      if (open[at] && text[at] === '/') running = true;
    } else if (part === 'below') {
      if (open[at] && (at === text.length || text[at] === '/')) next[text.length] = 1;
    } else {
      if (part === 'run' && text[at - 1] === '/') running = false;
      if (open[at]) running = true;
      if (running) next[at] = 1;
    }
  }
}
