'use client';

import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import { MoreHorizontal } from 'lucide-react';
import { useRouter } from 'next/navigation';
import { toast } from 'sonner';
import type { Answered } from '../net/send';
import { useMay } from './Editing';

export interface RowAction {
  readonly words: string;
  /** Where it leads, or what it does; what is refused is told. */
  readonly does: { readonly href: string } | { readonly file: string } | { readonly run: () => Promise<Answered<unknown>> };
}

const ITEM = 'block w-full rounded px-3 py-1.5 text-left data-focus:bg-bone';

/** What can be done with a row of a list; opened by the key "." too. */
export function RowMenu({ name, actions }: { name: string; actions: readonly RowAction[] }) {
  const router = useRouter();
  const mayEdit = useMay('edit');
  async function carryOut(run: () => Promise<Answered<unknown>>): Promise<void> {
    const result = await run();
    if (!result.ok) toast.error(result.message);
    router.refresh();
  }
  return (
    <Menu>
      <MenuButton data-row-actions aria-label={`Actions for ${name}`} className="rounded p-1 text-soft hover:bg-bone hover:text-ink">
        <MoreHorizontal size={16} aria-hidden="true" />
      </MenuButton>
      <MenuItems anchor="bottom end" className="z-40 mt-1 w-48 sheet p-1 shadow-lg">
        {actions
          .filter(({ does }) => mayEdit || !('run' in does))
          .map(({ words, does }) => (
            <MenuItem key={words}>
              {'file' in does ? (
                <a className={ITEM} href={does.file} download>
                  {words}
                </a>
              ) : (
                <button className={ITEM} onClick={() => ('href' in does ? router.push(does.href) : void carryOut(does.run))}>
                  {words}
                </button>
              )}
            </MenuItem>
          ))}
      </MenuItems>
    </Menu>
  );
}
