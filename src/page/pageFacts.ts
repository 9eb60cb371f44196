import type { Page } from '@/core/pages/address';

/** The page as patterns see it. A new object only when something changed, so that its address is parsed once. */
export function createPageReader(): () => Page {
  let last: (Page & { key: string }) | undefined;
  return () => {
    const title = document.title;
    const labels = readLabels();
    const key = [location.href, title, ...labels].join('\n');
    if (last?.key !== key) last = { url: location.href, title, labels, key };
    return last;
  };
}

function readLabels(): string[] {
  const metas = document.querySelectorAll<HTMLMetaElement>(
    'meta[property="og:type"],meta[property="article:section"],meta[property="article:tag"]',
  );
  const words = [document.documentElement, document.body].flatMap((element) => (element?.dataset['crindleLabel'] ?? '').split(/\s+/));
  return [...Array.from(metas, (meta) => meta.content), ...words].filter(Boolean).slice(0, 50);
}
