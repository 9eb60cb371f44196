import { isElement, ofElement } from '../own';
import type { Stop } from './sensor';
import { listen } from './sensor';

/** Emits `click` with those of the watched selectors that the click was on or inside of, and a short print of the element. */
export function watchClicks(
  emit: (signal: { s: 'click'; on: string[]; what: string | undefined }) => void,
  watched: () => readonly string[],
  /** A click on an element with `data-crindle-open` asks for the message it names. */
  onAsked: (name: string) => void = () => undefined,
): Stop {
  // As early as can be: a page that goes on to another address by this click has not done so yet.
  return listen(window, ['click'], (event) => {
    const path = event.composedPath();
    // What happens inside a message of ours is input, but no click on the page.
    if (path.some((node) => isElement(node) && attribute(node, 'data-crindle') !== null)) return;
    const target = isElement(event.target) ? event.target : undefined;
    const on = watched().filter((selector) => target && closest(target, selector));
    emit({ s: 'click', on, what: target && printOf(target) });
    const asking = target && closest(target, '[data-crindle-open]');
    if (asking) onAsked(attribute(asking, 'data-crindle-open') ?? '');
  });
}

const attribute = (element: Element, name: string): string | null => ofElement(element, 'getAttribute').call(element, name);

function closest(target: Element, selector: string): Element | null {
  try {
    return ofElement(target, 'closest').call(target, selector);
  } catch {
    return null; // No valid selector matches nothing.
  }
}

/** "button#book-now.primary": enough to recognise an element by, at most 60 characters. */
function printOf(element: Element): string {
  const id = attribute(element, 'id');
  const name = attribute(element, 'class')?.trim().split(/\s+/)[0];
  return `${ofElement(element, 'localName')}${id ? `#${id}` : ''}${name ? `.${name}` : ''}`.slice(0, 60);
}
