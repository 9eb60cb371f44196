'use client';

import { useRouter } from 'next/navigation';
import type { ReactNode } from 'react';
import { toast } from 'sonner';
import { SaveNote } from './SaveNote';
import { send } from './send';
import { UndoButtons } from './UndoButtons';
import type { Saved } from './useSaved';

/** The top of an editor: the name to type into, undo and redo, whether it is saved, and deleting. */
export function EditorHead<T extends { name: string }>({
  what,
  saved: { api, draft, setDraft, history, state, issues, retry },
  back,
  children,
  more,
}: {
  /** "segment", for labels. */
  what: string;
  saved: Saved<T>;
  /** Where one goes when it is deleted. */
  back: string;
  /** Beside the name. */
  children?: ReactNode;
  /** Before Delete. */
  more?: ReactNode;
}) {
  const router = useRouter();
  async function remove(): Promise<void> {
    const result = await send('DELETE', api);
    if (!result.ok) return void toast.error(result.message);
    router.push(back);
    router.refresh();
  }
  return (
    <div className="flex flex-wrap items-center gap-3">
      <input
        aria-label={`Name of the ${what}`}
        className="field min-w-0 flex-[0_1_420px] border-transparent bg-transparent font-display text-2xl font-bold hover:border-line"
        value={draft.name}
        maxLength={200}
        onChange={(event) => setDraft({ ...draft, name: event.target.value })}
      />
      {children}
      <div className="flex flex-wrap items-center gap-3 md:ml-auto">
        <UndoButtons {...history} />
        <SaveNote state={state} issues={issues} retry={retry} />
        {more}
        <button className="act-quiet" onClick={() => void remove()}>
          Delete
        </button>
      </div>
    </div>
  );
}
