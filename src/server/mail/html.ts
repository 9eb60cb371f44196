const ENTITIES: Readonly<Record<string, string>> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' };

/** A plain text as the body of a mail: markup in it is text, lines and spaces stay. */
export const plainHtml = (text: string): string =>
  `<div style="font:15px/1.5 system-ui,sans-serif;white-space:pre-wrap">${text.replace(/[&<>"]/g, (one) => ENTITIES[one] ?? one)}</div>`;
