import type { Page } from '@/core/pages/address';
import { cleanName } from './clean';
import { ofDocument } from './own';

export type PageReader = () => Page & { readonly title: string; readonly labels: string[] };

/** The page as patterns see it, here and on record: what is too long to be sent is cut. A new object only when something changed, so that its address is parsed once. */
export function createPageReader(): PageReader {
  let last: { url: string; title: string; labels: string[]; key: string } | undefined;
  return () => {
    const title = ofDocument('title').slice(0, 500);
    const labels = readLabels();
    const key = [location.href, title, ...labels].join('\n');
    if (last?.key !== key) last = { url: location.href, title, labels, key };
    return last;
  };
}

function readLabels(): string[] {
  const root = ofDocument('documentElement');
  // A page may have 200,000 elements, and this is asked at every scroll: what stands in its head is looked for there.
  const metas = (ofDocument('head') ?? root).querySelectorAll<HTMLMetaElement>(
    '[property="og:type"],[property="article:section"],[property="article:tag"]',
  );
  const words = [root, ofDocument('body')].flatMap((element) => (element?.dataset['crindleLabel'] ?? '').split(/\s+/));
  return [...[...metas].map((meta) => meta.content), ...words].filter(Boolean).slice(0, 50).map(cleanName);
}
