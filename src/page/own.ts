/**
 * What the browser gives a document or an element, and not what the page has put over it: a form or an image of a page may be
 * named "title" or "body", and a field of a form "id".
 */
export const ofDocument = <K extends keyof Document>(name: K): Document[K] => Reflect.get(Document.prototype, name, document);

export const ofElement = <K extends keyof Element>(element: Element, name: K): Element[K] => Reflect.get(Element.prototype, name, element);

/** Whatever goes by that name instead is not "hidden". */
export const isHidden = (): boolean => document.visibilityState === 'hidden';
