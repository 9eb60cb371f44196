'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import type { ConnectionKind } from '@/core/connections/kinds';
import { CONNECTION_KINDS, KIND_WORDS } from '@/core/connections/kinds';
import { callWith } from '../parts/net/call';
import { unusedName } from '../parts/saving/unusedName';
import { copy } from '../setup/copy';
import type { TypedConnection } from './ConnectionFields';
import { ConnectionFields, NOTHING_TYPED, settingsTyped } from './ConnectionFields';

/** Something more that leads are sent to. */
export function NewConnection({ names }: { names: readonly string[] }) {
  const router = useRouter();
  const [kind, setKind] = useState<ConnectionKind>('hook');
  const [typed, setTyped] = useState<TypedConnection>(NOTHING_TYPED);
  const [error, setError] = useState<string>();
  const [made, setMade] = useState<{ id: string; secret: string }>();
  const words = KIND_WORDS[kind];
  const make = async (): Promise<void> => {
    setError(undefined);
    const result = await callWith('POST /api/connections', {
      kind,
      name: unusedName(words.name, names),
      settings: settingsTyped(kind, typed),
      ...(words.secret && typed.secret ? { secret: typed.secret } : {}),
    });
    if (!result.ok) return setError(result.message);
    setTyped({ ...typed, secret: '' });
    if (result.value.secret) setMade({ id: result.value.id, secret: result.value.secret });
    else router.push(`/setup/connections/${result.value.id}`);
  };
  if (made)
    return (
      <section className="sheet grid gap-3 p-5" role="status">
        <p>The web hook is made. Its signing key is shown this once; your server checks with it that a lead is from here:</p>
        <p>
          <code className="font-mono break-all">{made.secret}</code>{' '}
          <button className="act-quiet" onClick={() => void copy(made.secret)}>
            Copy
          </button>
        </p>
        <button className="act w-fit" onClick={() => router.push(`/setup/connections/${made.id}`)}>
          Go on to it
        </button>
      </section>
    );
  return (
    <form
      className="sheet grid max-w-2xl gap-3 p-5"
      aria-label="New connection"
      onSubmit={(event) => {
        event.preventDefault();
        void make();
      }}
    >
      <h2 className="font-bold">New connection</h2>
      <label className="flex flex-wrap items-center gap-2">
        A
        <select
          aria-label="Kind"
          className="field"
          value={kind}
          onChange={({ target }) => {
            setKind(CONNECTION_KINDS.find((one) => one === target.value) ?? 'hook');
            setError(undefined);
          }}
        >
          {CONNECTION_KINDS.map((one) => (
            <option key={one} value={one}>
              {KIND_WORDS[one].name}
            </option>
          ))}
        </select>
        <span className="text-soft">{words.does}.</span>
      </label>
      <ConnectionFields kind={kind} typed={typed} secretHint={words.secret ? `, ${words.secret.hint}` : ''} onChange={setTyped} />
      {error && (
        <p role="alert" className="text-danger">
          {error}
        </p>
      )}
      <button className="act w-fit">Make it</button>
    </form>
  );
}
