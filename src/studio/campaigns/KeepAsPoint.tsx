'use client';

import { useState } from 'react';
import { toast } from 'sonner';
import { call } from '../parts/net/call';
import { Phrase } from '../messages/Phrase';

/** Keeps the campaign as it is for others to begin from. */
export function KeepAsPoint({ campaign }: { campaign: string }) {
  const [use, setUse] = useState('');
  return (
    <Phrase label="Keep as a starting point" words="Keep as a starting point">
      {(close) => (
        <form
          className="grid w-80 gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            void (async () => {
              const result = await call('POST /api/starting-points', { body: { campaign, use } });
              if (!result.ok) return void toast.error(result.message);
              toast.success('Kept: it stands under “Begin from …”');
              close();
            })();
          }}
        >
          <label className="grid gap-1">
            When does one take it, in a sentence?
            <input className="field" value={use} maxLength={300} required onChange={({ target }) => setUse(target.value)} />
          </label>
          <button className="act w-fit">Keep it</button>
        </form>
      )}
    </Phrase>
  );
}
