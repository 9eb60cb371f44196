'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { toast } from 'sonner';
import { call } from '../parts/net/call';
import type { Answered } from '../parts/net/send';

export interface SessionShown {
  readonly id: string;
  readonly agent: string;
  /** UTC ms. */
  readonly since: number;
  readonly seenAt: number;
  readonly isThis: boolean;
}

const when = (at: number): string =>
  new Date(at).toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' });

/** One's own name, password, second factor, and where one is signed in. */
export function AccountScreen({
  name,
  email,
  hasFactor,
  spareCodes,
  sessions,
}: {
  name: string;
  email: string;
  hasFactor: boolean;
  spareCodes: number;
  sessions: readonly SessionShown[];
}) {
  return (
    <div className="grid gap-4 lg:grid-cols-2">
      <div className="grid content-start gap-4">
        <Name name={name} email={email} />
        <Password />
      </div>
      <div className="grid content-start gap-4">
        <Factor hasFactor={hasFactor} spareCodes={spareCodes} />
        <Sessions sessions={sessions} />
      </div>
    </div>
  );
}

function Name({ name, email }: { name: string; email: string }) {
  const router = useRouter();
  const [typed, setTyped] = useState(name);
  const [error, setError] = useState<string>();
  const save = async (): Promise<void> => {
    const result = await call('PUT /api/account', { body: { name: typed } });
    setError(result.ok ? undefined : result.message);
    if (!result.ok) return;
    toast('Saved');
    router.refresh();
  };
  return (
    <form
      className="sheet grid gap-3 p-5"
      aria-label="Your name"
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      <h2 className="text-lg font-bold">
        You <span className="text-base font-normal text-soft">{email}</span>
      </h2>
      <label className="grid gap-1">
        <span className="text-soft">Name</span>
        <input className="field" autoComplete="name" maxLength={200} value={typed} onChange={({ target }) => setTyped(target.value)} />
      </label>
      <Wrong error={error} />
      <button className="act justify-self-start">Save</button>
    </form>
  );
}

function Wrong({ error }: { error: string | undefined }) {
  return error ? (
    <p role="alert" className="text-danger">
      {error}
    </p>
  ) : null;
}

function PasswordField({
  label,
  value,
  isNew = false,
  onChange,
}: {
  label: string;
  value: string;
  isNew?: boolean;
  onChange: (value: string) => void;
}) {
  return (
    <label className="grid gap-1">
      <span className="text-soft">{label}</span>
      <input
        className="field"
        type="password"
        autoComplete={isNew ? 'new-password' : 'current-password'}
        maxLength={1000}
        value={value}
        onChange={({ target }) => onChange(target.value)}
      />
    </label>
  );
}

function Password() {
  const router = useRouter();
  const [typed, setTyped] = useState({ password: '', next: '' });
  const [error, setError] = useState<string>();
  const save = async (): Promise<void> => {
    const result = await call('PUT /api/account/password', { body: typed });
    setError(result.ok ? undefined : result.message);
    if (!result.ok) return;
    setTyped({ password: '', next: '' });
    toast('Kept: you are signed out everywhere else');
    router.refresh();
  };
  return (
    <form
      className="sheet grid gap-3 p-5"
      aria-label="Password"
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      <h2 className="text-lg font-bold">Password</h2>
      <PasswordField label="The one you have" value={typed.password} onChange={(password) => setTyped({ ...typed, password })} />
      <PasswordField
        label="The next one, at least 10 characters"
        isNew
        value={typed.next}
        onChange={(next) => setTyped({ ...typed, next })}
      />
      <Wrong error={error} />
      <button className="act justify-self-start" disabled={!typed.password || !typed.next}>
        Change it
      </button>
    </form>
  );
}

interface Begun {
  readonly ticket: string;
  readonly secret: string;
  readonly picture: string;
}

function Factor({ hasFactor, spareCodes }: { hasFactor: boolean; spareCodes: number }) {
  const router = useRouter();
  const [password, setPassword] = useState('');
  const [code, setCode] = useState('');
  const [begun, setBegun] = useState<Begun>();
  const [codes, setCodes] = useState<readonly string[]>();
  const [error, setError] = useState<string>();
  const go = async <T,>(asked: Promise<Answered<T>>, then: (value: T) => void): Promise<void> => {
    const result = await asked;
    setError(result.ok ? undefined : result.message);
    if (!result.ok) return;
    then(result.value);
    setPassword('');
    router.refresh();
  };
  if (codes)
    return (
      <section className="sheet grid gap-3 p-5" aria-labelledby="spare">
        <h2 id="spare" className="text-lg font-bold">
          Spare codes
        </h2>
        <p>Each lets you in once when you have no authenticator. They are shown this once: keep them where you keep your passwords.</p>
        <ul className="grid grid-cols-2 gap-1 font-mono" aria-label="Spare codes">
          {codes.map((one) => (
            <li key={one}>{one}</li>
          ))}
        </ul>
        <button className="act justify-self-start" onClick={() => setCodes(undefined)}>
          I have kept them
        </button>
      </section>
    );
  const submit = (): Promise<void> =>
    begun
      ? go(call('PUT /api/account/factor', { body: { ticket: begun.ticket, code } }), (value) => {
          setCodes(value.codes);
          setBegun(undefined);
          setCode('');
        })
      : hasFactor
        ? go(call('DELETE /api/account/factor', { body: { password } }), () => toast('Nothing but your password is asked for now'))
        : go(call('POST /api/account/factor', { body: { password } }), setBegun);
  return (
    <form
      className="sheet grid gap-3 p-5"
      aria-label="Second step"
      onSubmit={(event) => {
        event.preventDefault();
        void submit();
      }}
    >
      <h2 className="text-lg font-bold">Second step</h2>
      {begun ? (
        <>
          <p>Point your authenticator at this, or type the key into it; then say what it shows.</p>
          <img
            src={begun.picture}
            alt="The key as a picture for an authenticator"
            width={220}
            height={220}
            className="rounded bg-white p-1"
          />
          <p className="font-mono break-all" aria-label="Key">
            {begun.secret}
          </p>
          <label className="grid gap-1">
            <span className="text-soft">Code</span>
            <input
              className="field"
              inputMode="numeric"
              autoComplete="one-time-code"
              maxLength={10}
              value={code}
              onChange={({ target }) => setCode(target.value)}
            />
          </label>
        </>
      ) : (
        <>
          <p className="text-soft">
            {hasFactor
              ? `A code is asked for after your password. ${spareCodes === 1 ? '1 spare code is' : `${spareCodes} spare codes are`} left.`
              : 'After your password a code of an authenticator can be asked for: whoever knows your password alone stays out.'}
          </p>
          <PasswordField label="Your password" value={password} onChange={setPassword} />
        </>
      )}
      <Wrong error={error} />
      <button
        className={begun || !hasFactor ? 'act justify-self-start' : 'act-quiet justify-self-start'}
        disabled={begun ? !code : !password}
      >
        {begun ? 'From now on ask for it' : hasFactor ? 'Ask for it no more' : 'Set it up'}
      </button>
    </form>
  );
}

function Sessions({ sessions }: { sessions: readonly SessionShown[] }) {
  const router = useRouter();
  const end = async (ending: Promise<Answered<unknown>>): Promise<void> => {
    const result = await ending;
    if (!result.ok) toast.error(result.message);
    router.refresh();
  };
  return (
    <section className="sheet grid gap-3 p-5" aria-labelledby="sessions">
      <h2 id="sessions" className="text-lg font-bold">
        Where you are signed in
      </h2>
      <ul className="grid gap-2">
        {sessions.map(({ id, agent, since, seenAt, isThis }) => (
          <li key={id} className="flex flex-wrap items-baseline gap-x-3 border-b border-line pb-2 last:border-0">
            <span className="min-w-0 flex-1 break-words">
              {isThis ? <b>This browser</b> : agentWords(agent)}
              <span className="block text-soft">
                since {when(since)}, last seen {when(seenAt)}
              </span>
            </span>
            {!isThis && (
              <button
                className="act-quiet"
                aria-label={`End ${agentWords(agent)}`}
                onClick={() => void end(call('DELETE /api/account/sessions/{id}', { params: { id } }))}
              >
                End it
              </button>
            )}
          </li>
        ))}
      </ul>
      {sessions.length > 1 && (
        <button className="act-quiet justify-self-start" onClick={() => void end(call('DELETE /api/account/sessions'))}>
          End all but this one
        </button>
      )}
    </section>
  );
}

/** A browser by what it calls itself, as far as it says so. */
export function agentWords(agent: string): string {
  const system = /Windows|Android|iPhone|iPad|Mac OS X|Linux/.exec(agent)?.[0].replace('Mac OS X', 'macOS');
  const browser = /(Firefox|Edg|OPR|Chrome|Safari)\//.exec(agent)?.[1]?.replace('Edg', 'Edge').replace('OPR', 'Opera');
  return browser ? `${browser}${system ? ` on ${system}` : ''}` : agent.slice(0, 60) || 'a program that gives no name';
}
