'use client';

import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import { Plus, X } from 'lucide-react';
import type { ReactNode } from 'react';
import { Fragment } from 'react';
import type { Expr, Group, Path } from '@/core/logic/expr';
import { asGroup } from '@/core/logic/expr';
import { Choice } from './fields';
import type { Recorded } from './recorded';
import { useRecorded } from './recorded';

type Join = 'all' | 'any' | 'none';

export interface KindOffer<T> {
  /** The head that it is offered under. */
  readonly under?: string;
  readonly label: string;
  readonly make: (recorded: Recorded) => T;
}

export interface ExprEditorProps<T extends object> {
  readonly label: string;
  readonly value: Expr<T>;
  readonly onChange: (value: Expr<T>) => void;
  readonly offers: readonly KindOffer<T>[];
  /** What takes the condition's place may be a whole group. */
  readonly renderLeaf: (leaf: T, onChange: (part: Expr<T>) => void) => ReactNode;
  /** What joins are called for this family. */
  readonly joins: Readonly<Record<Join, string>>;
  readonly colour: string;
  readonly depth?: number;
  /** Where the expression stands in what is edited. */
  readonly path?: Path;
}

/** Marks a condition's row, so that a phrase of the sentence can lead there. */
export const leafAt = (path: Path): string => `leaf-${path.join('.')}`;

/** Conditions joined by all, any or none, nested as far as the language allows. */
export function ExprEditor<T extends object>(props: ExprEditorProps<T>) {
  const { value, onChange, offers, renderLeaf, joins, label, colour, depth = 0, path = [] } = props;
  const recorded = useRecorded();
  const group = asGroup(value) ?? { join: 'all' as const, parts: [value] };
  const set = (join: Join, parts: Expr<T>[]): void => onChange(simplest(join, parts));
  const change = (index: number, part: Expr<T>): void =>
    set(
      group.join,
      group.parts.map((one, at) => (at === index ? part : one)),
    );
  const isJoined = group.parts.length > 1 || group.join !== 'all' || depth > 0;
  return (
    <div role="group" aria-label={label} className="grid gap-2 border-l-2 pl-3" style={{ borderColor: colour }}>
      {isJoined && (
        <div className="flex items-center gap-2">
          <Choice
            label={`${label}, joined by`}
            value={group.join}
            options={(['all', 'any', 'none'] as const).map((join) => [join, joins[join]] as const)}
            onChange={(join) => set(join, group.parts)}
          />
        </div>
      )}
      {group.parts.map((part, index) => (
        <div key={index} className="flex items-start gap-2">
          <div className="min-w-0 flex-1" id={asGroup(part) ? undefined : leafAt(part === value ? path : [...path, group.join, index])}>
            {asGroup(part) ? (
              <ExprEditor
                {...props}
                label={`${label}, group ${index + 1}`}
                value={part}
                depth={depth + 1}
                path={[...path, group.join, index]}
                onChange={(next) => change(index, next)}
              />
            ) : (
              renderLeaf(part as T, (next) => change(index, next))
            )}
          </div>
          <button
            className="mt-1.5 p-0.5 text-soft hover:text-danger"
            aria-label={`Remove condition ${index + 1} of ${label}`}
            onClick={() =>
              set(
                group.join,
                group.parts.filter((_, at) => at !== index),
              )
            }
          >
            <X size={15} aria-hidden="true" />
          </button>
        </div>
      ))}
      <Menu>
        <MenuButton className="act-quiet justify-self-start">
          <Plus size={14} aria-hidden="true" /> Add a condition
        </MenuButton>
        <MenuItems anchor="bottom start" className="z-40 mt-1 max-h-[60vh] w-64 overflow-auto sheet p-1 shadow-lg">
          {offers.map(({ under, label: offer, make }, nth) => (
            <Fragment key={offer}>
              {under !== undefined && under !== offers[nth - 1]?.under && <p className="px-3 pt-2 pb-0.5 text-xs text-soft">{under}</p>}
              <MenuItem>
                <button
                  className="block w-full rounded px-3 py-1.5 text-left data-focus:bg-bone"
                  onClick={() => set(group.join, [...group.parts, make(recorded)])}
                >
                  {offer}
                </button>
              </MenuItem>
            </Fragment>
          ))}
          {depth < 6 && (
            <MenuItem>
              <button
                className="mt-1 block w-full border-t border-line px-3 py-1.5 text-left data-focus:bg-bone"
                onClick={() => set(group.join, [...group.parts, { none: offers[0] ? [offers[0].make(recorded)] : [] }])}
              >
                A group (all, any or none of)
              </button>
            </MenuItem>
          )}
        </MenuItems>
      </Menu>
    </div>
  );
}

function simplest<T extends object>(join: Join, parts: Expr<T>[]): Expr<T> {
  const only = parts[0];
  return join === 'all' && parts.length === 1 && only !== undefined ? only : ({ [join]: parts } as Group<T>);
}
