'use client';

import { useState } from 'react';
import type { Rule } from '@/core/rules/schema';
import { pagesHold } from '@/core/pages/pages';
import type { PageSets } from '@/core/pages/pattern';
import { Phrase } from '../messages/Phrase';
import { listId, useRecorded } from '../rule/recorded';
import { openOnSite } from './openOnSite';

const NO_SETS: PageSets = {};

/** Opens the site with everything unpublished, for one tab of this browser: on a page where the rule could show. */
export function TryOnSite({ campaign, rule, isSaved }: { campaign: string; rule: Rule; isSaved: boolean }) {
  const { pages } = useRecorded();
  const fitting = pages.find(({ path }) => pagesHold(rule.pages, { url: `https://site.example${path}` }, NO_SETS) === true);
  const written = rule.pages?.on?.flatMap((pattern) => ('op' in pattern && pattern.op === 'is' && pattern.value ? [pattern.value] : []))[0];
  return (
    <Phrase label="Try it on the site" words="Try it on the site">
      {(close) => <Where page={fitting?.path ?? written ?? pages[0]?.path ?? '/'} campaign={campaign} isSaved={isSaved} onDone={close} />}
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
