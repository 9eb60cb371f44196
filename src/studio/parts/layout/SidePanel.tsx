'use client';

import { Dialog, DialogBackdrop, DialogPanel, DialogTitle } from '@headlessui/react';
import { X } from 'lucide-react';
import type { ReactNode } from 'react';

/** Slides over the work from the right; Escape and a click beside it close it. */
export function SidePanel({
  title,
  isOpen,
  onClose,
  children,
}: {
  title: string;
  isOpen: boolean;
  onClose: () => void;
  children: ReactNode;
}) {
  return (
    <Dialog open={isOpen} onClose={onClose} className="relative z-40">
      <DialogBackdrop className="fixed inset-0 bg-black/25" />
      <DialogPanel className="slide-in fixed inset-y-0 right-0 w-[440px] max-w-full overflow-auto border-l border-line bg-paper p-6 shadow-xl">
        <div className="mb-5 flex items-start justify-between">
          <DialogTitle className="font-display text-xl font-bold">{title}</DialogTitle>
          <button aria-label="Close" className="act-quiet" onClick={onClose}>
            <X size={16} aria-hidden="true" />
          </button>
        </div>
        {children}
      </DialogPanel>
    </Dialog>
  );
}
