'use client';

import { useActionState } from 'react';
import { Mark } from './Mark';

export interface BeginState {
  readonly error?: string;
  readonly name?: string;
  readonly email?: string;
  readonly site?: string;
  readonly address?: string;
}

const FIELDS = [
  ['name', 'Your name', 'text', 'name'],
  ['email', 'Email', 'email', 'username'],
  ['password', 'Password, at least 10 characters', 'password', 'new-password'],
  ['site', 'Name of the site', 'text', 'off'],
  ['address', 'Its address, such as www.example.com', 'text', 'off'],
] as const;

/** What a studio that nobody has used yet asks first: who you are, and which site it is for. */
export function BeginForm({ begin }: { begin: (before: BeginState, form: FormData) => Promise<BeginState> }) {
  const [state, act, isBusy] = useActionState<BeginState, FormData>(begin, {});
  return (
    <main className="grid min-h-screen place-items-center">
      <form action={act} className="grid w-[min(440px,92vw)] gap-4 py-12" noValidate>
        <p className="flex items-center gap-2 font-display text-lg font-bold">
          <Mark /> Crindle
        </p>
        <h1 className="text-3xl font-bold leading-tight">Begin with your site</h1>
        <p className="text-soft">
          Nobody has an account here yet: yours is the first, and owns the site. Next you get the one line to put on it.
        </p>
        {FIELDS.map(([name, label, type, autoComplete]) => (
          <label key={name} className="grid gap-1 font-semibold">
            {label}
            <input
              className="field font-normal"
              name={name}
              type={type}
              autoComplete={autoComplete}
              defaultValue={name === 'password' ? '' : state[name]}
              key={name === 'password' ? name : `${name} ${state[name]}`}
            />
          </label>
        ))}
        <p role="alert" className="min-h-6 text-danger">
          {state.error}
        </p>
        <button className="act justify-self-start" disabled={isBusy}>
          {isBusy ? 'Making it' : 'Make the site'}
        </button>
      </form>
    </main>
  );
}
