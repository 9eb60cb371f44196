'use client';

import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { Way } from '@/core/install/ways';
import type { SiteCheck } from '@/server/sites/check';
import { call, fetched } from '../parts/net/call';

const ASK_MS = 1500;

interface Since {
  readonly seen: number;
  readonly trial: number;
  readonly policy: number;
}

const sinceOf = (check: SiteCheck): Since => ({
  seen: check.seen?.at ?? 0,
  trial: check.trial ?? 0,
  policy: Math.max(0, ...check.refusals.filter(({ reason }) => reason === 'policy').map(({ at }) => at)),
});

/** What one does on the site to try it, what has come of that, and when it is done. By the server's own instants. */
const TRIALS: Readonly<Record<Way, { readonly todo: string; readonly met: (check: SiteCheck, since: Since) => string | undefined }>> = {
  plain: { todo: 'Open a page of the site that has the line.', met: seenAnew },
  tool: { todo: 'Have the tool put it live, and open a page of the site.', met: seenAnew },
  singlePage: {
    todo: 'Open the application and go on to a second page in it.',
    met: (check, since) => {
      const fresh = check.pages.filter(({ at }) => at > since.seen);
      return fresh.length > 1 ? `Two pages were seen: ${fresh.map(({ url }) => pathOf(url)).join(' and ')}.` : undefined;
    },
  },
  own: { todo: 'Open a page of the site.', met: seenAnew },
  policy: {
    todo: 'Open a page that has the policy.',
    met: (check, since) => {
      const kept = check.refusals.find(({ reason, at }) => reason === 'policy' && at > since.policy);
      return kept ? `A browser kept it away: ${kept.subject}.` : seenAnew(check, since);
    },
  },
  stub: {
    todo: 'Open a page that calls crindle.did("crindle_here") right below the four lines.',
    met: (check, since) => ((check.trial ?? 0) > since.trial ? 'The early call has come.' : undefined),
  },
};

function seenAnew({ seen }: SiteCheck, since: Since): string | undefined {
  return seen && seen.at > since.seen ? `Seen on ${pathOf(seen.url)}.` : undefined;
}

const pathOf = (url: string): string => (URL.canParse(url) ? new URL(url).pathname : url);

export function WatchInstall({ way, address }: { way: Way; address: string }) {
  const [since, setSince] = useState<Since>();
  const [script, setScript] = useState<string>();
  const trial = TRIALS[way];
  const { data } = useQuery({
    queryKey: ['check'],
    refetchInterval: since ? ASK_MS : false,
    enabled: since !== undefined,
    queryFn: () => fetched('GET /api/site/check'),
  });
  const met = data && since && trial.met(data, since);
  async function begin(): Promise<void> {
    const now = await call('GET /api/site/check');
    if (now.ok) setSince(sinceOf(now.value));
    if (way !== 'own' || !address) return;
    const looked = await call('POST /api/site/look', {
      body: {
        url: `${address.replace(/\/+$/, '')}/page.js`,
        as: 'script',
      },
    });
    setScript(
      looked.ok && looked.value.script !== undefined
        ? {
            current: 'The script is there, as it is now.',
            older: 'An older script is there: some cache between has kept it.',
            none: 'What is there is not the script.',
          }[looked.value.script]
        : looked.ok
          ? undefined
          : looked.message,
    );
  }
  return (
    <div className="mt-4 border-t border-line pt-4">
      {since ? (
        <p role="status">
          {met ? <b>{met}</b> : `${trial.todo} Watching …`}
          {script && <span className="block">{script}</span>}
        </p>
      ) : (
        <button className="act-quiet" onClick={() => void begin()}>
          Try this line
        </button>
      )}
    </div>
  );
}
