import type { Page } from '@/core/pages/address';
import { ofDocument } from './own';

/** The page as patterns see it. A new object only when something changed, so that its address is parsed once. */
export function createPageReader(): () => Page {
  let last: (Page & { key: string }) | undefined;
  return () => {
    const title = ofDocument('title');
    const labels = readLabels();
    const key = [location.href, title, ...labels].join('\n');
    if (last?.key !== key) last = { url: location.href, title, labels, key };
    return last;
  };
}

function readLabels(): string[] {
  const root = ofDocument('documentElement');
  const metas = root.querySelectorAll<HTMLMetaElement>(
    'meta[property="og:type"],meta[property="article:section"],meta[property="article:tag"]',
  );
  const words = [root, ofDocument('body')].flatMap((element) => (element?.dataset['crindleLabel'] ?? '').split(/\s+/));
  return [...[...metas].map((meta) => meta.content), ...words].filter(Boolean).slice(0, 50);
}
