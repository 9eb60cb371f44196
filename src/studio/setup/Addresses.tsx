'use client';

import { useState } from 'react';
import { toast } from 'sonner';
import { call } from '../parts/net/call';

export function Addresses({ initial }: { initial: readonly string[] }) {
  const [text, setText] = useState(initial.join('\n'));
  const [error, setError] = useState<string>();

  async function save(): Promise<void> {
    const addresses = text.split(/\s+/).filter(Boolean);
    const result = await call('PUT /api/site/addresses', { body: { addresses } });
    setError(result.ok ? undefined : result.message);
    if (result.ok) toast.success('Addresses saved');
  }

  return (
    <section className="sheet p-5" aria-labelledby="addresses">
      <h2 id="addresses" className="mb-3 text-lg font-bold">
        The site’s addresses
      </h2>
      <label className="grid gap-1">
        <span className="text-soft">One host a line, such as www.example.com. Pages elsewhere are turned away.</span>
        <textarea
          className="field font-mono text-[13px]"
          rows={4}
          value={text}
          aria-invalid={error !== undefined}
          onChange={(event) => setText(event.target.value)}
        />
      </label>
      <p role="alert" className="my-2 text-danger">
        {error}
      </p>
      <button className="act-quiet" onClick={() => void save()}>
        Save addresses
      </button>
    </section>
  );
}
