'use client';

import { useActionState } from 'react';
import Link from 'next/link';
import type { AccessState } from './AccessForm';
import { Mark } from './Mark';

export function SignInForm({ signIn }: { signIn: (before: AccessState, form: FormData) => Promise<AccessState> }) {
  const [state, act, isBusy] = useActionState<AccessState, FormData>(signIn, {});
  return (
    <main className="grid min-h-screen grid-cols-1 lg:grid-cols-[minmax(380px,5fr)_7fr]">
      <form action={act} className="flex flex-col justify-center gap-4 px-[12%] py-16" noValidate>
        <p className="mb-6 flex items-center gap-2 font-display text-lg font-bold">
          <Mark /> Crindle
        </p>
        <h1 className="text-3xl font-bold leading-tight">Sign in</h1>
        <label className="grid gap-1 font-semibold">
          Email
          <input
            className="field font-normal"
            name="email"
            type="email"
            autoComplete="username"
            defaultValue={state.typed?.['email']}
            key={state.typed?.['email']}
            autoFocus
          />
        </label>
        <label className="grid gap-1 font-semibold">
          Password
          <input className="field font-normal" name="password" type="password" autoComplete="current-password" />
        </label>
        <p role="alert" className="min-h-6 text-danger">
          {state.error}
        </p>
        <button className="act self-start" disabled={isBusy}>
          {isBusy ? 'Signing in' : 'Sign in'}
        </button>
        <Link href="/forgot" className="self-start text-soft underline decoration-line underline-offset-4 hover:text-ink">
          I have forgotten my password
        </Link>
      </form>
      <section
        className="hidden flex-col justify-center border-l border-line bg-paper px-[10%] lg:flex"
        aria-label="What a rule reads like"
      >
        <p className="font-display text-[26px] leading-[1.9]">
          Show it to <span className="phrase phrase-people">people comparing prices</span>, on{' '}
          <span className="phrase phrase-pages">/pricing/**</span>, when they <span className="phrase phrase-moment">move to leave</span>,{' '}
          <span className="phrase phrase-pacing">not again for 7 days</span>.
        </p>
        <p className="mt-6 text-soft">
          Who sees it, where, when and how often: said in one sentence, the same in every browser and on the server.
        </p>
      </section>
    </main>
  );
}
