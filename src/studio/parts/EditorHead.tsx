'use client';

import { useRouter } from 'next/navigation';
import type { ReactNode } from 'react';
import { toast } from 'sonner';
import type { Issue } from '@/core/rules/parse';
import { SaveNote } from './SaveNote';
import { send } from './send';
import { UndoButtons } from './UndoButtons';
import type { SaveState } from './useAutosave';

/** The top of an editor: the name to type into, undo and redo, whether it is saved, and deleting. */
export function EditorHead({
  what,
  name,
  onName,
  history,
  state,
  issues,
  retry,
  api,
  back,
  children,
  more,
}: {
  /** "segment", for labels. */
  what: string;
  name: string;
  onName: (name: string) => void;
  history: Parameters<typeof UndoButtons>[0];
  state: SaveState;
  issues: readonly Issue[];
  retry: () => void;
  /** Where it is deleted. */
  api: string;
  /** Where one goes when it is. */
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
        value={name}
        maxLength={200}
        onChange={(event) => onName(event.target.value)}
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
