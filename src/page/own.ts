/**
 * What the browser gives a document or an element, and not what the page has put over it: a form or an image of a page may be
 * named "title" or "body", and a field of a form "id". Asked of what it descends from: a page's libraries replace `Document` and `Element`.
 */
export const ofElement = <T extends Node, K extends keyof T>(thing: T, name: K): T[K] =>
  Reflect.get(Object.getPrototypeOf(thing) as T, name, thing);

export const ofDocument = <K extends keyof Document>(name: K): Document[K] => ofElement(document, name);

/** Not `instanceof`, for the same reason. */
export const isElement = (thing: unknown): thing is Element => (thing as Node | null)?.nodeType === 1;

/** Whatever goes by that name instead is not "hidden". */
export const isHidden = (): boolean => document.visibilityState === 'hidden';
