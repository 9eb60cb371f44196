import { ofDocument } from '../own';

/** Undefined where the cookie store is closed, as in a sandboxed frame. Values are decoded where they can be. */
export function readCookies(): Record<string, string> | undefined {
  try {
    const pairs = ofDocument('cookie')
      .split('; ')
      .filter(Boolean)
      .map((pair) => {
        const cut = pair.indexOf('=');
        const name = cut < 0 ? '' : pair.slice(0, cut);
        return [name, decode(pair.slice(cut + 1))] as const;
      });
    return Object.fromEntries(pairs);
  } catch {
    return undefined;
  }
}

function decode(text: string): string {
  try {
    return decodeURIComponent(text);
  } catch {
    return text;
  }
}
