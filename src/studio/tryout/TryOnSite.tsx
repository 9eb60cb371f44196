'use client';

import { useState } from 'react';
import { Phrase } from '../messages/Phrase';
import { listId } from '../rule/recorded';
import { useFirstPage } from './firstPage';
import { openOnSite } from './openOnSite';

/** Opens the site with everything unpublished, for one tab of this browser: on a page where the rule could show. */
export function TryOnSite({ campaign, isSaved }: { campaign: string; isSaved: boolean }) {
  const first = useFirstPage();
  return (
    <Phrase label="Try it on the site" words="Try it on the site">
      {(close) => <Where page={first} campaign={campaign} isSaved={isSaved} onDone={close} />}
    </Phrase>
  );
}

function Where({ page: first, campaign, isSaved, onDone }: { page: string; campaign: string; isSaved: boolean; onDone: () => void }) {
  const [page, setPage] = useState(first);
  const [error, setError] = useState<string>();
  async function open(): Promise<void> {
    const opened = await openOnSite({ page, campaign });
    if (opened.ok) onDone();
    else setError(opened.message);
  }
  return (
    <form
      className="grid w-80 gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        void open();
      }}
    >
      <label className="grid gap-1">
        Begin on the page
        <input className="field font-mono" list={listId('pages')} value={page} onChange={({ target }) => setPage(target.value)} required />
      </label>
      <p className="text-soft">
        A tab opens with your site as it would be with everything unpublished, and with the reasons for all that is silent. Nothing done in
        it is recorded or counted, and nobody else sees it.
      </p>
      {!isSaved && <p className="text-moment">What was typed last is being saved, and comes along in a moment.</p>}
      <p role="alert" className="text-danger empty:hidden">
        {error}
      </p>
      <button className="act justify-self-start">Open the try-out</button>
    </form>
  );
}
