import type { Rehearsed } from '@/core/rehearsal/rehearsed';
import { useNames } from '../rule/useNames';

/** What the campaign takes from the live ones: places held, the gap between showings, the site's budget. */
export function Collisions({ report, isWithOthers }: { report: Rehearsed; isWithOthers: boolean }) {
  const names = useNames();
  if (!isWithOthers) return null;
  const met = report.collisions.filter(({ alone, together }) => alone !== together);
  const isKnown = report.done === report.runs;
  return (
    <section aria-label="Meets other campaigns">
      <h2 className="mb-2 font-bold">Meets other campaigns</h2>
      {!isKnown && <div className="skeleton h-8" role="status" aria-label="Rehearsing the others" />}
      {isKnown && met.length === 0 && <p className="text-soft">It takes no showing from any of them.</p>}
      <ul className="grid gap-1">
        {met.map(({ campaign, alone, together }) => (
          <li key={campaign} className="flex justify-between gap-3">
            <span className="min-w-0 truncate">{names.campaign(campaign)}</span>
            <span className="whitespace-nowrap text-soft">
              {together < alone
                ? `loses ${(alone - together).toLocaleString('en-GB')} of ${alone.toLocaleString('en-GB')}`
                : `gains ${(together - alone).toLocaleString('en-GB')}`}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
