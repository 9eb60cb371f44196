'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { toast } from 'sonner';
import type { ConnectionBody } from '@/core/connections/kinds';
import { KIND_WORDS, kindTakes, TOLD } from '@/core/connections/kinds';
import type { ExchangeLine } from '@/server/db/connections';
import { call, callWith } from '../parts/net/call';
import type { TypedConnection } from './ConnectionFields';
import { ConnectionFields, settingsTyped } from './ConnectionFields';
import type { WhatWaitsFor } from './WhatWaits';
import { clock, WhatWaits } from './WhatWaits';

interface Initial {
  readonly name: string;
  readonly kind: ConnectionBody['kind'];
  readonly settings: ConnectionBody['settings'];
  readonly revision: number;
  readonly hasSecret: boolean;
}

const textOf = (value: unknown): string => (typeof value === 'string' ? value : '');

/** One connection: what it needs to know, whether it answers, what waits for it and what failed, and the last exchanges. */
export function ConnectionScreen({
  id,
  initial,
  restsUntil,
  exchanges,
  deliveries,
  members,
  kept,
}: {
  id: string;
  initial: Initial;
  exchanges: readonly (Omit<ExchangeLine, 'at'> & { readonly at: number })[];
} & WhatWaitsFor) {
  const router = useRouter();
  const words = KIND_WORDS[initial.kind];
  const given = initial.settings as Readonly<Record<string, unknown>>;
  const isSentTo = kindTakes(initial.kind, 'leads') || kindTakes(initial.kind, 'segments');
  const [name, setName] = useState(initial.name);
  const [typed, setTyped] = useState<TypedConnection>(() => ({
    values: Object.fromEntries(words.fields.map((field) => [field.name, textOf(given[field.name])])),
    allowPrivate: given['allowPrivate'] === true,
    secret: '',
    tells: TOLD.filter((one) => Array.isArray(given['tells']) && given['tells'].includes(one)),
  }));
  const [error, setError] = useState<string>();
  const [checked, setChecked] = useState<{ ok: boolean; note: string } | 'checking'>();
  const save = async (): Promise<void> => {
    setError(undefined);
    const result = await callWith(
      'PUT /api/connections/{id}',
      {
        kind: initial.kind,
        name: name.trim(),
        revision: initial.revision,
        settings: settingsTyped(initial.kind, typed),
        ...(typed.secret ? { secret: typed.secret } : {}),
      },
      { id },
    );
    if (!result.ok) return setError(result.message);
    toast('Saved');
    router.refresh();
  };
  const check = async (): Promise<void> => {
    setChecked('checking');
    const result = await call('POST /api/connections/{id}/check', { params: { id } });
    setChecked(result.ok ? result.value : { ok: false, note: result.message });
    router.refresh();
  };
  const again = async (delivery?: string): Promise<void> => {
    const result = await call('POST /api/deliveries', { body: { connection: id, ...(delivery ? { delivery } : {}) } });
    if (!result.ok) return void toast.error(result.message);
    toast(result.value.again === 1 ? 'It is tried again' : `${result.value.again} are tried again`);
    router.refresh();
  };
  const remove = async (): Promise<void> => {
    const result = await call('DELETE /api/connections/{id}', { params: { id } });
    if (!result.ok) return void toast.error(result.message);
    router.push('/setup/connections');
    router.refresh();
  };
  return (
    <>
      <div className="grid gap-4 lg:grid-cols-2">
        <form
          className="sheet grid content-start gap-3 p-5"
          aria-label="What it needs to know"
          onSubmit={(event) => {
            event.preventDefault();
            void save();
          }}
        >
          <p className="text-soft">
            {words.name}: {words.does}.
          </p>
          <label className="grid gap-1">
            <span className="text-soft">Name</span>
            <input className="field" maxLength={200} value={name} onChange={({ target }) => setName(target.value)} />
          </label>
          <ConnectionFields
            kind={initial.kind}
            typed={typed}
            secretHint={initial.hasSecret ? ': there is one; only another one is typed here' : ''}
            onChange={setTyped}
          />
          {error && (
            <p role="alert" className="text-danger">
              {error}
            </p>
          )}
          <p className="flex flex-wrap items-center gap-3">
            <button className="act">Save</button>
            <button type="button" className="act-quiet" disabled={checked === 'checking'} onClick={() => void check()}>
              Check it
            </button>
            <button type="button" className="act-quiet ms-auto" onClick={() => void remove()}>
              Delete
            </button>
          </p>
          <p role="status" className={checked && checked !== 'checking' && !checked.ok ? 'text-danger' : 'text-soft'}>
            {checked === 'checking' ? 'Asking it …' : checked && (checked.ok ? 'It answers.' : `It does not: ${checked.note}.`)}
          </p>
        </form>
        {isSentTo && (
          <WhatWaits
            restsUntil={restsUntil}
            deliveries={deliveries}
            members={members}
            kept={kept}
            onAgain={(delivery) => void again(delivery)}
          />
        )}
      </div>
      <section className="sheet" aria-labelledby="exchanges">
        <h2 id="exchanges" className="p-4 pb-2 font-bold">
          The last exchanges
        </h2>
        {exchanges.length === 0 ? (
          <p className="px-4 pb-4 text-soft">None yet.</p>
        ) : (
          <table className="list">
            <thead>
              <tr>
                <th>When</th>
                <th>What</th>
                <th>Answer</th>
                <th className="number">Took</th>
                <th>Why</th>
              </tr>
            </thead>
            <tbody>
              {exchanges.map(({ at, what, status, tookMs, note }, nth) => (
                <tr key={`${at} ${nth}`}>
                  <td className="whitespace-nowrap">{clock(at)}</td>
                  <td>{what}</td>
                  <td>{status ?? (note ? 'none' : 'taken')}</td>
                  <td className="number">{tookMs} ms</td>
                  <td className="max-w-xl truncate">{note}</td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </section>
    </>
  );
}
