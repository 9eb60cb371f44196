'use client';

import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { Plus, X } from 'lucide-react';
import type { ReactNode } from 'react';
import { useEffect, useRef } from 'react';
import type { Action } from '@/core/messages/action';
import { actionKinds, ACTION_KINDS, MOST_ACTIONS } from '@/core/messages/action';
import type { Format } from '@/core/messages/message';
import { Choice, NumberField } from '../rule/fields';
import { PickOnSite } from '../tryout/PickOnSite';
import { Address, PhoneNumber, Words } from './fields';
import { FirstFocused } from './Phrase';

export interface ActionsProps {
  readonly does: readonly Action[];
  /** Ids of the flow's messages. */
  readonly messages: readonly string[];
  readonly onChange: (does: Action[]) => void;
  /** Makes a message that it then opens. */
  readonly onOpenNew: (format: Format) => void;
}

/** What a button or an answer does, in order: opened from the end of its line. */
export function ActionsMenu({
  label,
  button,
  className,
  ...actions
}: ActionsProps & { label: string; button: ReactNode; className: string }) {
  return (
    <Popover>
      <PopoverButton aria-label={label} className={className}>
        {button}
      </PopoverButton>
      <PopoverPanel anchor={{ to: 'bottom start', gap: 6 }} className="z-40 w-[420px] max-w-[90vw] sheet p-3 text-sm shadow-lg">
        {({ close }) => (
          <FirstFocused>
            <h3 className="mb-2 font-sans text-sm font-semibold">{label}</h3>
            <ActionList {...actions} onOpenNew={(format) => (close(), actions.onOpenNew(format))} />
          </FirstFocused>
        )}
      </PopoverPanel>
    </Popover>
  );
}

function ActionList({ does, messages, onChange, onOpenNew }: ActionsProps) {
  const put = (at: number, action: Action): void => onChange(does.map((one, index) => (index === at ? action : one)));
  const make = (kind: Action['kind']): Action => {
    const made = ACTION_KINDS[kind].make();
    return made.kind === 'message' ? { ...made, id: messages[0] ?? made.id } : made;
  };
  const list = useRef<HTMLOListElement>(null);
  const known = useRef(does.length);
  useEffect(() => {
    // Whoever adds one goes on with it.
    if (does.length > known.current) list.current?.querySelector<HTMLElement>('li:last-child select')?.focus();
    known.current = does.length;
  }, [does.length]);
  return (
    <div className="grid gap-2">
      {does.length === 0 && <p className="text-soft">Nothing yet.</p>}
      <ol ref={list} className="grid gap-2">
        {does.map((action, index) => (
          <li key={index} className="flex items-start gap-2">
            <span className="w-10 shrink-0 pt-1.5 text-soft">{index === 0 ? 'First' : 'then'}</span>
            <span className="flex min-w-0 flex-1 flex-wrap items-center gap-2">
              <Choice
                label={`Action ${index + 1}`}
                value={action.kind}
                options={actionKinds().map(({ kind, label }) => [kind, label] as const)}
                onChange={(kind) => put(index, make(kind))}
              />
              <ActionFields action={action} messages={messages} onChange={(next) => put(index, next)} />
            </span>
            <button
              aria-label={`Take action ${index + 1} out`}
              className="rounded p-1.5 text-soft hover:text-danger"
              onClick={() => onChange(does.filter((_, at) => at !== index))}
            >
              <X size={14} aria-hidden="true" />
            </button>
          </li>
        ))}
      </ol>
      <div className="flex flex-wrap gap-2 border-t border-line pt-2">
        {does.length < MOST_ACTIONS && (
          <button className="act-quiet" onClick={() => onChange([...does, make(does.length ? 'tag' : 'close')])}>
            <Plus size={14} aria-hidden="true" /> Do more
          </button>
        )}
        <button className="act-quiet" onClick={() => onOpenNew('popup')}>
          Open a new pop-up
        </button>
      </div>
    </div>
  );
}

function ActionFields({ action, messages, onChange }: { action: Action; messages: readonly string[]; onChange: (action: Action) => void }) {
  switch (action.kind) {
    case 'message':
      return (
        <Choice
          label="Message to open"
          value={action.id}
          options={[...new Set([...messages, action.id])].map((id) => [id, messages.includes(id) ? id : `${id} (not there)`] as const)}
          onChange={(id) => onChange({ ...action, id })}
        />
      );
    case 'page':
      return (
        <>
          <Address label="Address" value={action.url} placeholder="/offers or https://…" onChange={(url) => onChange({ ...action, url })} />
          {/* A section is led to by its own page. */}
          <PickOnSite wants="page" onPick={({ value }) => onChange({ ...action, url: value.replace(/\/\*.*$/, '') || '/' })} />
          <label className="inline-flex items-center gap-1.5">
            <input
              type="checkbox"
              checked={action.newTab === true}
              onChange={({ target }) => onChange({ ...action, newTab: target.checked || undefined })}
            />
            in a new tab
          </label>
        </>
      );
    case 'calendar':
      return (
        <Address label="Address" value={action.url} placeholder="/meet or https://…" onChange={(url) => onChange({ ...action, url })} />
      );
    case 'phone':
      return (
        <PhoneNumber label="Number" value={action.number} placeholder="+43 …" onChange={(number) => onChange({ ...action, number })} />
      );
    case 'report':
      return (
        <Words label="Event" most={200} value={action.event} placeholder="asked" onChange={(event) => onChange({ ...action, event })} />
      );
    case 'tag':
      return <Words label="Tag" most={100} value={action.tag} placeholder="interested" onChange={(tag) => onChange({ ...action, tag })} />;
    case 'score':
      return (
        <NumberField label="Points" value={action.points} min={-1000} max={1000} onChange={(points) => onChange({ ...action, points })} />
      );
    case 'close':
    case 'end':
      return null;
  }
}
