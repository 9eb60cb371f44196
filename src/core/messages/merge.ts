// Values of the visitor put into a text: "Hello {first name, or there}". Every value has a fallback, because most visitors
// are not known. A brace is written twice to stand for itself.

export type Piece = string | { readonly name: string; readonly fallback: string };

const VALUE = /\{\{|\}\}|\{([^{},]+)(?:,\s*or\s+([^{}]*))?\}/g;

/** A text as pieces: as it stands, or a value to put in. A value without a fallback has an empty one. */
export function piecesOf(text: string): Piece[] {
  const pieces: Piece[] = [];
  let from = 0;
  const push = (plain: string): void => {
    if (plain) pieces.push(plain);
  };
  for (const match of text.matchAll(VALUE)) {
    push(text.slice(from, match.index));
    from = match.index + match[0].length;
    if (match[1] === undefined) push(match[0].charAt(0));
    else pieces.push({ name: keyOf(match[1]), fallback: (match[2] ?? '').trim() });
  }
  push(text.slice(from));
  return pieces;
}

/** "First name" and "first_name" ask for the same trait. */
export const keyOf = (name: string): string =>
  name
    .trim()
    .toLowerCase()
    .replace(/[\s_-]+/g, '_');

export function merged(text: string, values: Readonly<Record<string, string>>): string {
  return piecesOf(text)
    .map((piece) => (typeof piece === 'string' ? piece : (Object.hasOwn(values, piece.name) && values[piece.name]) || piece.fallback))
    .join('');
}

/** The values that texts anywhere in a document ask for. */
export function namesIn(document: unknown): string[] {
  const names = new Set<string>();
  const look = (value: unknown): void => {
    if (typeof value === 'string') {
      for (const piece of piecesOf(value)) if (typeof piece !== 'string') names.add(piece.name);
    } else if (typeof value === 'object' && value !== null) Object.values(value).forEach(look);
  };
  look(document);
  return [...names].sort();
}
