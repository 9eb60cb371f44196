'use client';

import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { Bold, Italic, Link2, List, ListOrdered } from 'lucide-react';
import { useState } from 'react';
import type { Path } from '@/core/flows/edit';
import type { BlockOf } from '@/core/messages/block';
import { addressSchema } from '@/core/messages/bounds';
import type { Format } from '@/core/messages/richText';
import { listOf, pathKey } from './board';
import type { CaretRef, Edit, RichHandle } from './caret';
import { ADDRESS_FITS } from './fields';
import { withFormat } from './Written';
import { FirstFocused } from './Phrase';

const FORMATS = [
  ['Bold', { bold: true }, Bold],
  ['Italic', { italic: true }, Italic],
  ['List with dots', { as: 'bullets' }, List],
  ['List with numbers', { as: 'numbers' }, ListOrdered],
] as const;

/** What can be put on letters: on those that are marked, on all where none are. A plain text becomes one with formatting by it. */
export function FormatTools({
  path,
  block,
  caretRef,
  edit,
}: {
  path: Path;
  block: BlockOf<'text' | 'rich'>;
  caretRef: CaretRef;
  edit: Edit;
}) {
  const rich = (): RichHandle | undefined => caretRef.current.rich.get(pathKey(path));
  const put = (format: Format | { readonly link: undefined }): void => {
    const handle = rich();
    if (handle) return handle.format(format);
    if (block.kind === 'rich' || ('link' in format && format.link === undefined)) return;
    const { last } = caretRef.current;
    const { from, to } = last && pathKey(listOf(last.path)) === pathKey(path) ? last : ALL;
    edit((message) => withFormat(message, path, format, from, to));
  };
  return (
    <>
      {FORMATS.map(([label, format, Icon]) => (
        // The text keeps the focus, and what is marked in it.
        <button
          key={label}
          aria-label={label}
          title={label}
          className="board-tool"
          onPointerDown={(event) => event.preventDefault()}
          onClick={() => put(format)}
        >
          <Icon size={16} aria-hidden="true" />
        </button>
      ))}
      <Popover>
        <PopoverButton aria-label="Link" title="Link" className="board-tool">
          <Link2 size={16} aria-hidden="true" />
        </PopoverButton>
        <PopoverPanel anchor={{ to: 'bottom start', gap: 8 }} className="z-40 w-[360px] max-w-[90vw] sheet p-3 text-sm shadow-lg">
          {({ close }) => (
            <FirstFocused>
              <LinkField
                now={rich()?.link()}
                onChange={(link) => {
                  put({ link });
                  close();
                }}
              />
            </FirstFocused>
          )}
        </PopoverPanel>
      </Popover>
    </>
  );
}

/** Nothing is marked: all of it is meant. */
const ALL = { from: 0, to: 0 };

function LinkField({ now, onChange }: { now: string | undefined; onChange: (link: string | undefined) => void }) {
  const [typed, setTyped] = useState(now ?? '');
  const [isTried, setTried] = useState(false);
  const isGood = addressSchema().safeParse(typed.trim()).success;
  return (
    <form
      className="grid gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        setTried(true);
        if (isGood) onChange(typed.trim());
      }}
    >
      <label className="flex items-center gap-2">
        Leads to
        <input
          className="field min-w-0 flex-1 aria-invalid:border-danger"
          aria-invalid={isTried && !isGood}
          placeholder="/page or https://…"
          value={typed}
          maxLength={2000}
          onChange={({ target }) => setTyped(target.value)}
        />
      </label>
      {isTried && !isGood && (
        <p role="alert">
          Not taken: “{typed.slice(0, 60)}”; {ADDRESS_FITS}.
        </p>
      )}
      <div className="flex gap-2">
        <button className="act">Put the link on</button>
        {now !== undefined && (
          <button type="button" className="act-quiet" onClick={() => onChange(undefined)}>
            Take it off
          </button>
        )}
      </div>
    </form>
  );
}
