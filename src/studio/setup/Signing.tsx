'use client';

import { useState } from 'react';
import { toast } from 'sonner';
import { call } from '../parts/net/call';
import { copy } from './copy';

export interface SigningState {
  readonly hasSecret: boolean;
  readonly isRequired: boolean;
}

/** Whether anybody may tell the page who they are, or only the site's own server. */
export function Signing({ initial }: { initial: SigningState }) {
  const [{ hasSecret, isRequired }, setState] = useState(initial);
  const [secret, setSecret] = useState<string>();
  const [error, setError] = useState<string>();

  async function change(body: { isRequired?: boolean; newSecret?: true }): Promise<void> {
    const before = { hasSecret, isRequired };
    setState({ hasSecret: hasSecret || body.newSecret === true, isRequired: body.isRequired ?? isRequired });
    const result = await call('PUT /api/site/signing', { body });
    setError(result.ok ? undefined : result.message);
    if (!result.ok) return setState(before);
    if (result.value.secret) setSecret(result.value.secret);
    toast.success(
      !body.newSecret
        ? 'Saved; it holds within seconds'
        : before.hasSecret
          ? 'A new secret; the last one no longer counts'
          : 'The secret is made',
    );
  }

  return (
    <section className="sheet p-5" aria-labelledby="signing">
      <h2 id="signing" className="mb-3 text-lg font-bold">
        Who visitors say they are
      </h2>
      <p className="mb-3 text-soft">
        Anybody can type <code className="font-mono">crindle.person</code> into their browser. Where your server signs the id and the email,
        only those are believed.
      </p>
      <label className="mb-3 flex gap-2">
        <input
          type="checkbox"
          className="mt-1"
          checked={isRequired}
          disabled={!hasSecret}
          onChange={(event) => void change({ isRequired: event.target.checked })}
        />
        <span>
          Believe only what is signed
          <span className="block text-soft">
            {hasSecret ? 'What is not signed is turned away and counted here.' : 'Make a secret first, and give it to your server.'}
          </span>
        </span>
      </label>
      {secret && (
        <div className="mb-3 rounded border border-line bg-bone p-3" role="status">
          <p className="mb-2">The secret, shown this once. Keep it on your server, never in a page.</p>
          <pre className="mb-2 whitespace-pre-wrap break-all font-mono text-[13px]">{secret}</pre>
          <button className="act-quiet" onClick={() => void copy(secret)}>
            Copy the secret
          </button>
          <p className="mb-1 mt-3">On your server (Node here; it is HMAC-SHA-256 of id, line feed, email, in hexadecimal):</p>
          <pre className="whitespace-pre-wrap break-all font-mono text-xs">{EXAMPLE}</pre>
        </div>
      )}
      <p role="alert" className="my-2 text-danger">
        {error}
      </p>
      <button className="act-quiet" onClick={() => void change({ newSecret: true })}>
        {hasSecret ? 'Make a new secret' : 'Make a secret'}
      </button>
    </section>
  );
}

const EXAMPLE = `const signature = crypto.createHmac('sha256', SECRET).update(id + '\\n' + email).digest('hex');
// in the page: crindle.person({ id, email, signature })`;
