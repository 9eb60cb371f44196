'use client';

import type { ConnectionKind, Told } from '@/core/connections/kinds';
import { KIND_WORDS, TOLD, TOLD_WORDS } from '@/core/connections/kinds';

/** What is typed of a connection, as it is typed. */
export interface TypedConnection {
  readonly values: Readonly<Record<string, string>>;
  readonly allowPrivate: boolean;
  readonly secret: string;
  /** What a web hook is told besides. */
  readonly tells: readonly Told[];
}
export const NOTHING_TYPED: TypedConnection = { values: {}, allowPrivate: false, secret: '', tells: [] };

/** The settings of a kind out of what was typed. */
export const settingsTyped = (kind: ConnectionKind, { values, allowPrivate, tells }: TypedConnection): Record<string, unknown> => ({
  ...Object.fromEntries(KIND_WORDS[kind].fields.map(({ name }) => [name, (values[name] ?? '').trim()])),
  ...(KIND_WORDS[kind].hasAddress && allowPrivate ? { allowPrivate } : {}),
  ...(kind === 'hook' && tells.length > 0 ? { tells } : {}),
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
      {kind === 'hook' && (
        <fieldset className="grid gap-1">
          <legend className="text-soft">It hears of leads and segments where a campaign or a segment says so, and of all</legend>
          {TOLD.map((what) => (
            <label key={what} className="flex items-center gap-2">
              <input
                type="checkbox"
                checked={typed.tells.includes(what)}
                onChange={({ target }) =>
                  onChange({ ...typed, tells: TOLD.filter((one) => (one === what ? target.checked : typed.tells.includes(one))) })
                }
              />
              {TOLD_WORDS[what]}
            </label>
          ))}
        </fieldset>
      )}
      {words.hasAddress && (
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
