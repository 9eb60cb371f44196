import { call } from '../parts/net/call';

/**
 * Opens a page of the site in a tab of its own, as a try-out. The tab is opened at once, while the browser still knows that somebody clicked, and led
 * to the site when its address has come; the site cannot reach back to the studio.
 */
export async function openOnSite(asked: {
  page: string;
  campaign?: string;
  wants?: 'page' | 'element';
}): Promise<{ readonly ok: true; readonly id: string } | { readonly ok: false; readonly message: string }> {
  const tab = window.open('about:blank', '_blank');
  if (!tab) return { ok: false, message: 'The browser would not open a tab; allow it for the studio and try again.' };
  const opened = await call('POST /api/tryouts', { body: asked });
  if (!opened.ok) {
    tab.close();
    return opened;
  }
  tab.opener = null;
  tab.location.href = opened.value.url;
  return { ok: true, id: opened.value.id };
}
