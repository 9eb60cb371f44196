'use client';

import type { ReactNode } from 'react';
import { useActionState } from 'react';
import { Mark } from './Mark';

export interface AccessState {
  readonly error?: string;
  /** What was done, in place of the form. */
  readonly done?: string;
  /** What had been typed, by the names of the fields; never a password. */
  readonly typed?: Readonly<Record<string, string>>;
}

export interface AccessField {
  readonly name: string;
  readonly label: string;
  readonly type?: 'text' | 'email' | 'password';
  readonly autoComplete: string;
  readonly value?: string;
}

/** One form alone on a page, for whoever is not in yet. `held`: what goes along unseen. */
export function AccessForm({
  title,
  note,
  fields,
  held = {},
  act,
  button,
  busy,
  below,
}: {
  title: string;
  note?: ReactNode;
  fields: readonly AccessField[];
  held?: Readonly<Record<string, string>>;
  act: (before: AccessState, form: FormData) => Promise<AccessState>;
  button: string;
  busy: string;
  below?: ReactNode;
}) {
  const [state, run, isBusy] = useActionState<AccessState, FormData>(act, {});
  return (
    <main className="grid min-h-screen place-items-center">
      <form action={run} className="grid w-[min(440px,92vw)] gap-4 py-12" noValidate>
        <p className="flex items-center gap-2 font-display text-lg font-bold">
          <Mark /> Crindle
        </p>
        <h1 className="text-3xl font-bold leading-tight">{title}</h1>
        {state.done ? (
          <p role="status">{state.done}</p>
        ) : (
          <>
            {note && <div className="text-soft">{note}</div>}
            {Object.entries(held).map(([name, value]) => (
              <input key={name} type="hidden" name={name} value={value} />
            ))}
            {fields.map(({ name, label, type = 'text', autoComplete, value }, nth) => {
              const given = type === 'password' ? '' : (state.typed?.[name] ?? value ?? '');
              return (
                <label key={`${name} ${given}`} className="grid gap-1 font-semibold">
                  {label}
                  <input
                    className="field font-normal"
                    name={name}
                    type={type}
                    autoComplete={autoComplete}
                    defaultValue={given}
                    autoFocus={nth === 0}
                  />
                </label>
              );
            })}
            <p role="alert" className="min-h-6 text-danger">
              {state.error}
            </p>
            {fields.length > 0 && (
              <button className="act justify-self-start" disabled={isBusy}>
                {isBusy ? busy : button}
              </button>
            )}
          </>
        )}
        {below && <p className="text-soft">{below}</p>}
      </form>
    </main>
  );
}
