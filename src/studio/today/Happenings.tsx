import Link from 'next/link';
import type { Happening } from '@/server/today/live';
import { agoWords } from '../parts/layout/Ago';
import { useNow } from '../parts/layout/useNow';

const SHOWN = 14;
const WORDS: Readonly<Record<Happening['kind'], string>> = {
  shown: 'showed',
  'held back': 'was held back (holdout)',
  clicked: 'was clicked',
  dismissed: 'was closed',
  converted: 'converted',
  replied: 'got a reply',
  event: 'happened',
};

/** What happened last on the site, newest first. */
export function Happenings({ happenings, behind }: { happenings: readonly Happening[] | undefined; behind: number }) {
  const now = useNow() + behind;
  return (
    <section className="sheet min-w-0 p-4" aria-labelledby="happening">
      <h2 id="happening" className="mb-2 font-bold">
        As it happens
      </h2>
      {!happenings && <div className="skeleton h-40" role="status" aria-label="Listening" />}
      {happenings?.length === 0 && <p className="text-soft">Nothing in the last hour.</p>}
      <ul className="grid grid-cols-[minmax(0,1fr)] gap-1.5">
        {happenings?.slice(0, SHOWN).map(({ id, at, kind, subject, campaign, visitor, path }) => (
          <li key={id} className="leading-snug">
            {campaign ? (
              <Link className="font-semibold hover:underline" href={`/campaigns/${campaign}`}>
                {subject}
              </Link>
            ) : (
              <b>{subject}</b>
            )}{' '}
            {kind === 'converted' ? <b className="text-pine">{WORDS[kind]}</b> : WORDS[kind]}
            <span className="block truncate text-xs text-soft">
              {agoWords(now - at)}
              {path && <span className="font-mono"> {path}</span>} ·{' '}
              <Link className="hover:underline" href={`/visitors/${visitor}`}>
                visitor {visitor}
              </Link>
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
