'use client';

import type { ConnectionKind } from '@/core/connections/kinds';
import { KIND_WORDS } from '@/core/connections/kinds';

/** What is typed of a connection, as it is typed. */
export interface TypedConnection {
  readonly values: Readonly<Record<string, string>>;
  readonly allowPrivate: boolean;
  readonly secret: string;
}

/** The settings of a kind out of what was typed. */
export const settingsTyped = (kind: ConnectionKind, { values, allowPrivate }: TypedConnection): Record<string, unknown> => ({
  ...Object.fromEntries(KIND_WORDS[kind].fields.map(({ name }) => [name, (values[name] ?? '').trim()])),
  ...(kind !== 'mail' && allowPrivate ? { allowPrivate } : {}),
});

/** What a connection of a kind needs to know. */
export function ConnectionFields({
  kind,
  typed,
  secretHint,
  onChange,
}: {
  kind: ConnectionKind;
  typed: TypedConnection;
  /** Goes on from the name of its secret. */
  secretHint: string;
  onChange: (typed: TypedConnection) => void;
}) {
  const words = KIND_WORDS[kind];
  return (
    <>
      {words.fields.map(({ name, label, hint }) => (
        <label key={name} className="grid gap-1">
          <span className="text-soft">{label}</span>
          <input
            className="field"
            placeholder={hint}
            maxLength={2000}
            value={typed.values[name] ?? ''}
            onChange={({ target }) => onChange({ ...typed, values: { ...typed.values, [name]: target.value } })}
          />
        </label>
      ))}
      {words.secret && (
        <label className="grid gap-1">
          <span className="text-soft">
            {words.secret.label}
            {secretHint}
          </span>
          <input
            className="field"
            type="password"
            autoComplete="off"
            maxLength={500}
            value={typed.secret}
            onChange={({ target }) => onChange({ ...typed, secret: target.value })}
          />
        </label>
      )}
      {kind !== 'mail' && (
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            checked={typed.allowPrivate}
            onChange={({ target }) => onChange({ ...typed, allowPrivate: target.checked })}
          />
          It is in our own network, or on this machine
        </label>
      )}
    </>
  );
}
