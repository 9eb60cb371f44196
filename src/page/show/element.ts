export function make<K extends keyof HTMLElementTagNameMap>(
  name: K,
  text = '',
  attributes: Readonly<Record<string, string>> = {},
): HTMLElementTagNameMap[K] {
  const made = document.createElement(name);
  if (text) made.textContent = text;
  for (const key of Object.keys(attributes)) made.setAttribute(key, attributes[key] as string);
  return made;
}

/** From the site's root, whatever a `<base>` in the page says. Where it would run something instead of leading somewhere, it leads nowhere. */
export const absolute = (url: string): string => {
  const { href } = new URL(url, location.origin);
  return /^http/.test(href) ? href : '#';
};

/** What is said in place of a form or a rating; it takes the focus that its button had. */
export function thank(instead: HTMLElement, text: string): void {
  const done = make('p', text, { role: 'status', tabindex: '-1', class: 'thanks' });
  instead.replaceWith(done);
  done.focus();
}

/** Several choices under one question. */
export function group(question: string, parts: readonly HTMLElement[], id: string): HTMLElement {
  const made = make('div', '', { role: 'group', 'aria-labelledby': id, class: 'group' });
  made.append(make('p', question, { id, class: 'question' }), ...parts);
  return made;
}
