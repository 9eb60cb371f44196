'use client';

import { useRouter } from 'next/navigation';
import type { ReactNode } from 'react';
import { toast } from 'sonner';
import { BesideNote } from './BesideNote';
import { EDITED } from './edited';
import { SaveNote } from './SaveNote';
import { UndoButtons } from './UndoButtons';
import { useRemove } from './useRemove';
import type { Saved } from './useSaved';
import { Editing } from '../layout/Editing';

/** The top of an editor: the name to type into, who else is here, undo and redo, whether it is saved, and deleting. */
export function EditorHead<T extends { name: string }>({
  saved: { kind, id, draft, setDraft, history, state, issues, retry, putTogether, beside, isNewer, isGone },
  children,
  more,
}: {
  saved: Saved<T>;
  /** Beside the name. */
  children?: ReactNode;
  /** Before Delete. */
  more?: ReactNode;
}) {
  const router = useRouter();
  const removeThing = useRemove();
  const { list, what } = EDITED[kind];
  async function remove(): Promise<void> {
    const result = await removeThing({ kind, id, name: draft.name });
    if (!result.ok) return void toast.error(result.message);
    router.push(list);
    router.refresh();
  }
  return (
    <div className="flex flex-wrap items-center gap-3">
      <Editing>
        <h1 className="sr-only">
          {what.charAt(0).toUpperCase() + what.slice(1)} {draft.name}
        </h1>
        <input
          aria-label={`Name of the ${what}`}
          className="field min-w-0 flex-[0_1_420px] border-transparent bg-transparent font-display text-2xl font-bold hover:border-line"
          value={draft.name}
          maxLength={200}
          onChange={(event) => setDraft({ ...draft, name: event.target.value })}
        />
        {children && <div className="flex flex-wrap items-center gap-3 print:hidden">{children}</div>}
        <div className="flex flex-wrap items-center gap-3 md:ml-auto print:hidden">
          <BesideNote beside={beside} isNewer={isNewer} isGone={isGone} />
          <UndoButtons {...history} />
          <SaveNote state={state} issues={issues} retry={retry} putTogether={putTogether} />
          {more}
          <button className="act-quiet" onClick={() => void remove()}>
            Delete
          </button>
        </div>
      </Editing>
    </div>
  );
}
