import type { LucideIcon } from 'lucide-react';
import { Redo2, Undo2 } from 'lucide-react';

interface StepProps {
  name: string;
  keys: string;
  can: boolean;
  onClick: () => void;
  Icon: LucideIcon;
}

/** The draft's undo and redo, for who does not know the keys. */
export function UndoButtons({ undo, redo, canUndo, canRedo }: { undo: () => void; redo: () => void; canUndo: boolean; canRedo: boolean }) {
  return (
    <span className="flex">
      <Step name="Undo" keys="Ctrl Z" can={canUndo} onClick={undo} Icon={Undo2} />
      <Step name="Redo" keys="Ctrl Shift Z" can={canRedo} onClick={redo} Icon={Redo2} />
    </span>
  );
}

function Step({ name, keys, can, onClick, Icon }: StepProps) {
  return (
    <button
      className="p-1.5 text-soft hover:text-ink disabled:opacity-40"
      aria-label={name}
      title={`${name} (${keys})`}
      disabled={!can}
      onClick={onClick}
    >
      <Icon size={16} aria-hidden="true" />
    </button>
  );
}
