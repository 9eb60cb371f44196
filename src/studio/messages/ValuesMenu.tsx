'use client';

import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import { useQuery } from '@tanstack/react-query';
import { Braces } from 'lucide-react';
import { valueAt, withValue } from '@/core/flows/edit';
import type { OfferedValue } from '@/server/visitors/values';
import { fetched } from '../parts/net/call';
import { useBrand } from '../brand/useBrand';
import { listOf, pathKey } from './board';
import type { CaretRef, Edit } from './caret';
import type { TextPlace } from './useDrawn';

const NONE: readonly OfferedValue[] = [];

/** What a text can say of its reader, and of the site, to put in where somebody last wrote. */
export function ValuesMenu({
  label,
  texts,
  caretRef,
  edit,
}: {
  label: string;
  texts: readonly TextPlace[];
  caretRef: CaretRef;
  edit: Edit;
}) {
  const { values = [] } = useBrand();
  const { data: offered = NONE } = useQuery({
    queryKey: ['values'],
    queryFn: ({ signal }) => fetched('GET /api/values', { signal }),
  });
  const put = (value: string): void => {
    const { last, rich: riches } = caretRef.current;
    const text = texts.find((one) => pathKey(one.path) === pathKey(last?.path ?? [])) ?? texts[0];
    if (!text) return;
    const rich = riches.get(pathKey(listOf(text.path)));
    if (rich) return rich.insert(value);
    edit((message) => {
      const now = valueAt(message, text.path);
      if (typeof now !== 'string') return message;
      const at = last && pathKey(text.path) === pathKey(last.path) ? last.from : now.length;
      const next = `${now.slice(0, at)}${value}${now.slice(at)}`;
      return next.length <= text.most ? withValue(message, text.path, next) : message;
    });
  };
  const rows = [
    // A value of somebody is not everybody's: what is said otherwise stands beside it, to be written.
    ...offered.map(({ name, have, of }) => ({ name, value: `{${name}, or …}`, note: of ? `${have} of ${of}` : 'nobody yet' })),
    ...values.map(({ name, text }) => ({ name: `site ${name}`, value: `{site ${name}}`, note: text })),
  ];
  return (
    <Menu>
      <MenuButton aria-label={`Put a value in: ${label}`} title="A value of the visitor, or of the site" className="board-tool">
        <Braces size={16} aria-hidden="true" />
      </MenuButton>
      <MenuItems anchor={{ to: 'bottom start', gap: 6 }} className="z-40 grid max-h-80 w-80 overflow-auto sheet p-1 shadow-lg">
        {rows.map(({ name, value, note }) => (
          <MenuItem key={name}>
            <button
              className="flex w-full justify-between gap-4 rounded px-3 py-1.5 text-start data-focus:bg-bone"
              onClick={() => put(value)}
            >
              {name}
              <span className="max-w-36 truncate text-soft">{note}</span>
            </button>
          </MenuItem>
        ))}
        <p className="px-3 pt-1.5 text-xs text-soft">of the {offered[0]?.of ?? 0} visitors heard of last</p>
      </MenuItems>
    </Menu>
  );
}
