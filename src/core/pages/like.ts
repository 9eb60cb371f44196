import { normalisePath } from './address';

// A wildcard is matched by following all positions at once, so that no pattern and no address,
// however hostile, takes more than (parts of the pattern) x (length of the address) steps.
const MOST_COMPILED = 20_000;

type Part = { readonly text: string } | 'run' | 'any' | 'levels' | 'below';

interface Compiled {
  readonly parts: readonly Part[];
  /** What the text begins and ends with, for certain: most texts are told apart by that. */
  readonly begins: string;
  readonly ends: string;
}
const compiled = new Map<string, Compiled>();

/**
 * Does the wildcard cover the whole text? `*` is any run without `/`, `**` any run at all, an inner `/**` with a slash
 * behind it any number of levels, and a pattern that ends in `/**` also covers the page above it.
 */
export function isLike(text: string, pattern: string): boolean {
  let known = compiled.get(pattern);
  if (!known) {
    const parts = compile(normalisePath(pattern));
    known = { parts, begins: textOf(parts[0]), ends: textOf(parts.at(-1)) };
    if (compiled.size > MOST_COMPILED) compiled.clear();
    compiled.set(pattern, known);
  }
  if (!text.startsWith(known.begins) || !text.endsWith(known.ends)) return false;
  let open = new Uint8Array(text.length + 1);
  open[0] = 1;
  for (const part of known.parts) {
    const next = new Uint8Array(text.length + 1);
    if (!step(part, { text, open, next })) return false;
    open = next;
  }
  return open[text.length] === 1;
}

const textOf = (part: Part | undefined): string => (typeof part === 'object' ? part.text : '');

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

/** Says whether any position is left. */
function step(part: Part, { text, open, next }: { text: string; open: Uint8Array; next: Uint8Array }): boolean {
  let running = false;
  if (typeof part === 'object') {
    // Only where it stands are positions looked at.
    for (let at = text.indexOf(part.text); at >= 0; at = text.indexOf(part.text, at + 1)) if (open[at]) next[at + part.text.length] = 1;
    return next.includes(1);
  }
  for (let at = 0; at <= text.length; at++) {
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
  return next.includes(1);
}
