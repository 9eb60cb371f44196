'use client';

import { useState } from 'react';
import { toast } from 'sonner';
import { addressOf, call } from '../parts/net/call';
import { BringIn } from '../parts/layout/BringIn';
import { goToSite } from './goToSite';

export interface SiteLine {
  readonly id: number;
  readonly name: string;
  readonly key: string;
  readonly role: string;
}

/** The sites that somebody works on, and another one. */
export function Sites({ sites, current }: { sites: readonly SiteLine[]; current: number }) {
  const [name, setName] = useState('');
  const [address, setAddress] = useState('');
  const [error, setError] = useState<string>();
  const [refused, setRefused] = useState<string>();
  async function make(): Promise<void> {
    const host = address
      .trim()
      .toLowerCase()
      .replace(/^https?:\/\//, '')
      .replace(/\/.*$/, '');
    const made = await call('POST /api/sites', { body: { name: name.trim(), address: host } });
    if (made.ok) window.location.assign('/setup');
    else setError(made.message);
  }
  return (
    <div className="grid max-w-4xl gap-6">
      <ul className="sheet divide-y divide-line" aria-label="Sites">
        {sites.map(({ id, name: called, key, role }) => (
          <li key={id} className="flex flex-wrap items-center gap-3 p-3">
            <b className="font-display text-base">{called}</b>
            <span className="font-mono text-[13px] text-soft">{key}</span>
            <span className="text-soft">as {role}</span>
            <span className="ms-auto">
              {id === current ? (
                <span className="text-soft">you are here</span>
              ) : (
                <button
                  className="act-quiet"
                  onClick={() => void goToSite(id).then((message) => message !== undefined && toast.error(message))}
                >
                  Go to {called}
                </button>
              )}
            </span>
          </li>
        ))}
      </ul>
      <section className="sheet grid max-w-xl gap-3 p-5" aria-labelledby="exchange">
        <h2 id="exchange" className="text-lg font-bold">
          Take out and bring in
        </h2>
        <p className="text-soft">
          Everything that people wrote for the site you are at: campaigns with their messages and pictures, segments, places, page sets,
          brand. What is brought in gets ids of its own, and its campaigns are drafts; nothing that is here is changed. Visits, leads and
          releases stay where they are.
        </p>
        <div className="flex flex-wrap gap-2">
          <a className="act-quiet" href={addressOf('GET /site.json')} download>
            Take out as JSON
          </a>
          <BringIn
            label="Bring in JSON"
            accept="application/json,.json"
            api="POST /api/site/import"
            words={({ campaigns, segments }) => `${campaigns} campaigns and ${segments} segments came in`}
            onError={setRefused}
          />
        </div>
        <p role="alert" className="text-danger empty:hidden">
          {refused}
        </p>
      </section>
      <form
        className="sheet grid max-w-xl gap-3 p-5"
        aria-label="Another site"
        onSubmit={(event) => {
          event.preventDefault();
          void make();
        }}
      >
        <h2 className="text-lg font-bold">Another site</h2>
        <p className="text-soft">With visits, segments, campaigns and releases of its own. You will be its owner.</p>
        <label className="grid gap-1">
          Name
          <input className="field" value={name} maxLength={200} required onChange={({ target }) => setName(target.value)} />
        </label>
        <label className="grid gap-1">
          Address
          <input
            className="field font-mono"
            placeholder="www.example.com"
            value={address}
            required
            onChange={({ target }) => setAddress(target.value)}
          />
        </label>
        <p role="alert" className="text-danger empty:hidden">
          {error}
        </p>
        <button className="act justify-self-start">Make the site</button>
      </form>
    </div>
  );
}
