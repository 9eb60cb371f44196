import { useRouter } from 'next/navigation';
import { useEffect } from 'react';
import { meaningOf } from './keys';

/** How long after `g` its second key is waited for. */
const SECOND_KEY_MS = 1500;

const inWork = (selector: string): HTMLElement | null => document.querySelector<HTMLElement>(`#work ${selector}`);

/** Listens for the studio's keys. Rows are links marked `data-row`, a list's filter `data-filter`, its button for a new one `data-new`. */
export function useKeys({ onSearch, onHelp }: { onSearch: () => void; onHelp: () => void }): void {
  const router = useRouter();
  useEffect(() => {
    let beganAt = -Infinity;
    const onKey = (event: KeyboardEvent): void => {
      const focus = event.target instanceof HTMLElement ? event.target : document.body;
      const isFloating = focus.closest('[role=dialog], [role=menu], [role=listbox]') !== null;
      const meaning = meaningOf({
        key: event.key,
        command: event.ctrlKey || event.metaKey,
        alt: event.altKey,
        isTyping: isFloating || focus.closest('input, textarea, select, [contenteditable=true], [role=slider]') !== null,
        isOnRow: focus.matches('[data-row]'),
        afterG: event.timeStamp - beganAt < SECOND_KEY_MS,
      });
      if (!meaning || event.defaultPrevented) return;
      beganAt = meaning.kind === 'began' ? event.timeStamp : -Infinity;
      if (meaning.kind === 'began') return;
      event.preventDefault();
      switch (meaning.kind) {
        case 'search':
          return onSearch();
        case 'help':
          return onHelp();
        case 'go':
          return router.push(meaning.href);
        case 'new':
          return inWork('[data-new]')?.click();
        case 'filter':
          return inWork('[data-filter]')?.focus();
        case 'move':
          return moveFocus(focus, meaning.by);
        case 'open':
          return focus.click();
        case 'actions':
          return focus.closest('tr, li')?.querySelector<HTMLElement>('[data-row-actions]')?.click();
      }
    };
    addEventListener('keydown', onKey);
    return () => removeEventListener('keydown', onKey);
  }, [router, onSearch, onHelp]);
}

function moveFocus(from: HTMLElement, by: 1 | -1): void {
  const rows = [...document.querySelectorAll<HTMLElement>('#work [data-row]')];
  const at = rows.indexOf(from);
  const next = at < 0 ? rows[by > 0 ? 0 : rows.length - 1] : rows[at + by];
  next?.focus();
  next?.scrollIntoView({ block: 'nearest' });
}
