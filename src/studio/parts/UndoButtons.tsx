import { Redo2, Undo2 } from 'lucide-react';

/** The draft's undo and redo, for who does not know the keys. */
export function UndoButtons({ undo, redo, canUndo, canRedo }: { undo: () => void; redo: () => void; canUndo: boolean; canRedo: boolean }) {
  return (
    <span className="flex">
      <button
        className="p-1.5 text-soft hover:text-ink disabled:opacity-40"
        aria-label="Undo"
        title="Undo (Ctrl Z)"
        disabled={!canUndo}
        onClick={undo}
      >
        <Undo2 size={16} aria-hidden="true" />
      </button>
      <button
        className="p-1.5 text-soft hover:text-ink disabled:opacity-40"
        aria-label="Redo"
        title="Redo (Ctrl Shift Z)"
        disabled={!canRedo}
        onClick={redo}
      >
        <Redo2 size={16} aria-hidden="true" />
      </button>
    </span>
  );
}
