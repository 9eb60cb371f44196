/** @jsxImportSource preact */
import { useState } from 'preact/hooks';
import { PHRASES } from './phrases';
import type { Change, Pretended } from './pretended';

const showWhole = (element: HTMLElement | null): void => element?.scrollIntoView({ block: 'nearest' });

/** Whom the visitor is taken to be, as a sentence whose phrases are clicked and typed into. */
export function Pretending({ change, setClock, ...pretended }: Pretended & { change: Change; setClock: (ahead: number) => void }) {
  const [open, setOpen] = useState<string>();
  const [isAll, setAll] = useState(false);
  const phrase = PHRASES.find(({ key }) => key === open);
  return (
    <>
      <h2>Pretend</h2>
      <p class="pretend" data-pretend>
        {PHRASES.filter(({ isSet }) => isAll || !isSet || isSet(pretended.pretend)).map(({ key, before, words }) => (
          <span key={key}>
            {before}
            <button type="button" class="phrase" aria-expanded={open === key} onClick={() => setOpen(open === key ? undefined : key)}>
              {words(pretended)}
            </button>
          </span>
        ))}
        .{' '}
        <button type="button" class="more" aria-expanded={isAll} onClick={() => setAll(!isAll)}>
          {isAll ? 'say less' : 'say more'}
        </button>
      </p>
      {phrase && (
        <div class="editor" role="group" aria-label="Change it" key={phrase.key} ref={showWhole}>
          {phrase.edit({ ...pretended, change, setClock, done: () => setOpen(undefined) })}
        </div>
      )}
    </>
  );
}
