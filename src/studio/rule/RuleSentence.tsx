'use client';

import type { Family, Phrase } from '@/core/rules/describe';
import type { Path } from '@/core/logic/expr';
import type { Rehearsed } from '@/core/rehearsal/rehearsed';

/** The rule as a sentence whose phrases open their family's editor; under each stands what it costs, the costliest outlined. */
export function RuleSentence({
  phrases,
  report,
  isOpen,
  onOpen,
  onDrop,
}: {
  phrases: readonly Phrase[];
  report: Rehearsed | undefined;
  isOpen: (family: Family, path: Path | undefined) => boolean;
  onOpen: (family: Family, path: Path | undefined) => void;
  /** Delete on a phrase takes its condition out of the rule. */
  onDrop: (path: Path) => void;
}) {
  const costs = (report?.without ?? []).map(({ path, showings }) => ({ path, cost: showings - (report?.sure ?? 0) }));
  const most = Math.max(0, ...costs.map(({ cost }) => cost));
  return (
    <>
      <p className="font-display text-xl leading-[2.5] [overflow-wrap:anywhere]">
        {phrases.map(({ text, family, path }, index) => {
          if (!family) return <span key={index}>{text}</span>;
          // Pacing is several phrases and one condition.
          const isFirst = phrases.findIndex((other) => other.path?.join('.') === path?.join('.')) === index;
          const cost = path && isFirst ? costOf(path, costs) : undefined;
          const isCostliest = cost !== undefined && cost > 0 && cost === most;
          return (
            <button
              key={index}
              className={`phrase phrase-${family} cost rounded px-0.5 text-left leading-[1.5] ${isOpen(family, path) ? 'bg-bone' : ''} ${isCostliest ? 'cost-most' : ''}`}
              aria-expanded={isOpen(family, path)}
              {...(cost !== undefined && cost > 0
                ? {
                    'data-cost': `−${cost.toLocaleString('en-GB')}${isCostliest ? ' · costliest' : ''}`,
                    title: `${cost.toLocaleString('en-GB')} more ${cost === 1 ? 'showing' : 'showings'} without it`,
                  }
                : {})}
              onClick={() => onOpen(family, path)}
              onKeyDown={(event) => {
                if ((event.key !== 'Delete' && event.key !== 'Backspace') || !path) return;
                event.preventDefault();
                onDrop(path);
              }}
            >
              {text}
            </button>
          );
        })}
      </p>
      {most > 0 && <p className="mt-1 text-xs text-soft">Under a phrase stands how many times more it would show without it.</p>}
    </>
  );
}

/** What takes a phrase away: its own entry, or that of the list it is the first of. */
function costOf(path: Path, costs: readonly { path: Path; cost: number }[]): number | undefined {
  const own = path.join('.');
  const parent = path.slice(0, -1).join('.');
  return costs.find(({ path: other }) => other.join('.') === own || (path.at(-1) === 0 && other.join('.') === parent))?.cost;
}
