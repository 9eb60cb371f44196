const ENTITIES: Readonly<Record<string, string>> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' };
export const plain = (text: string): string => text.replace(/[&<>"]/g, (one) => ENTITIES[one] ?? one);

const STYLE =
  'body{font:15px/1.5 system-ui,sans-serif;max-width:860px;margin:32px auto;padding:0 16px}pre{white-space:pre-wrap;border-top:1px solid #ccc}nav a,form button{margin-inline-end:12px}';

/** A stand-in's own page; `body` is HTML. */
export const page = (title: string, body: string): string =>
  `<!doctype html><html lang="en"><meta charset="utf-8"><title>${plain(title)}</title><style>${STYLE}</style><h1>${plain(title)}</h1>${body}</html>`;

/** What has arrived, the newest first. */
export const arrived = (rows: readonly (readonly [head: string, text: string])[]): string =>
  rows.map(([head, text]) => `<pre><b>${plain(head)}</b>\n${plain(text)}</pre>`).join('') || '<p>Nothing has arrived yet.</p>';
