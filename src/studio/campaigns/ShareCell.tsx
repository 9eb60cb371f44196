import type { Share } from '@/core/rehearsal/portfolio';

const count = (value: number): string => value.toLocaleString('en-GB');

/** What a campaign shows among the others: a bar within the outline of what it would show alone, and what takes the rest. */
export function ShareCell({ share, most }: { share: Share | undefined; most: number }) {
  if (!share) return <span className="text-soft">not switched on</span>;
  const { together, alone, toOrder = 0, toBudget = 0 } = share;
  const wide = (value: number): string => `${Math.max(0, Math.min(100, most ? (100 * value) / most : 0))}%`;
  const losses = [
    toOrder > 0 && `${count(toOrder)} to those above`,
    toOrder < 0 && `${count(-toOrder)} more thanks to others`,
    toBudget > 0 && `${count(toBudget)} to the budget`,
    toBudget < 0 && `${count(-toBudget)} more thanks to the budget`,
  ].filter(Boolean);
  return (
    <div className="w-44">
      <p className="flex items-baseline gap-2">
        <b>{count(together)}</b>
        {alone !== undefined && alone !== together && <span className="text-xs text-soft">of {count(alone)} alone</span>}
      </p>
      <div className="relative mt-0.5 h-2" aria-hidden="true">
        {alone !== undefined && <span className="absolute inset-y-0 left-0 border border-soft" style={{ width: wide(alone) }} />}
        <span className="absolute inset-y-0 left-0 bg-pine" style={{ width: wide(together) }} />
      </div>
      {losses.length > 0 && <p className="mt-0.5 text-xs text-soft">{losses.join(', ')}</p>}
    </div>
  );
}
