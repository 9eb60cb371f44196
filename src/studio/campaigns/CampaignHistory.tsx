'use client';

import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { call } from '../parts/net/call';

const told = (at: number): string =>
  new Date(at).toLocaleString('en-GB', { day: 'numeric', month: 'short', year: 'numeric', hour: '2-digit', minute: '2-digit' });

/** What was done to one campaign, and what each release made of it for visitors, newest first. */
export function CampaignHistory({ campaign }: { campaign: string }) {
  const { data, error } = useQuery({
    queryKey: ['history', campaign],
    queryFn: async () => {
      const result = await call('GET /api/campaigns/{id}/history', { params: { id: campaign } });
      if (!result.ok) throw new Error(result.message);
      return result.value.history;
    },
    refetchOnMount: 'always',
  });
  if (error)
    return (
      <p role="alert" className="text-danger">
        {error.message}
      </p>
    );
  if (!data) return <div className="skeleton h-40" role="status" aria-label="Loading the history" />;
  if (data.length === 0) return <p className="text-soft">Nothing has been done to it since histories are kept.</p>;
  return (
    <ol className="sheet max-w-4xl" aria-label="History">
      {data.map(({ at, by, release, did, words }, index) => (
        <li
          key={index}
          className="grid grid-cols-1 gap-x-3 border-b border-line px-4 py-2.5 last:border-0 md:grid-cols-[11rem_minmax(0,1fr)]"
        >
          <time className="text-soft" dateTime={new Date(at).toISOString()}>
            {told(at)}
          </time>
          <div className="min-w-0 wrap-anywhere">
            <p>
              {release !== undefined && (
                <>
                  <Link className="font-semibold underline decoration-line underline-offset-4" href="/setup/releases">
                    Release {release}
                  </Link>
                  {': '}
                </>
              )}
              <b className="font-semibold">{did}</b> <span className="text-soft">{by === null ? 'by itself' : `by ${by}`}</span>
            </p>
            {words.length > 0 && <p className="text-soft">It {words.join('; ')}.</p>}
          </div>
        </li>
      ))}
    </ol>
  );
}
