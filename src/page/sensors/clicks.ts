import type { Stop } from './sensor';
import { listen } from './sensor';

/** Emits `click` with those of the watched selectors that the click was on or inside of, and a short print of the element. */
export function watchClicks(
  emit: (signal: { s: 'click'; on: string[]; what?: string }) => void,
  watched: () => readonly string[],
  /** A click on an element with `data-crindle-open` asks for the message it names. */
  onAsked: (name: string) => void = () => undefined,
): Stop {
  return listen(document, ['click'], (event) => {
    const path = event.composedPath();
    // What happens inside a message of ours is input, but no click on the page.
    if (path.some((node) => node instanceof Element && node.hasAttribute('data-crindle'))) return;
    const target = event.target instanceof Element ? event.target : undefined;
    const on = watched().filter((selector) => target && matches(target, selector));
    emit({ s: 'click', on, ...(target ? { what: printOf(target) } : {}) });
    const asked = target?.closest('[data-crindle-open]')?.getAttribute('data-crindle-open');
    if (asked) onAsked(asked);
  });
}

function matches(target: Element, selector: string): boolean {
  try {
    return target.closest(selector) !== null;
  } catch {
    return false; // No valid selector matches nothing.
  }
}

/** "button#book-now.primary": enough to recognise an element by, at most 60 characters. */
function printOf(element: Element): string {
  const id = element.id ? `#${element.id}` : '';
  const name = element.classList[0] ? `.${element.classList[0]}` : '';
  return `${element.localName}${id}${name}`.slice(0, 60);
}
