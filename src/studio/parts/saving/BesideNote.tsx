import type { Beside } from '@/server/db/editing';

/** Who else has this open, and whether a newer version than this was saved elsewhere. */
export function BesideNote({ beside, isNewer, isGone }: { beside: readonly Beside[]; isNewer: boolean; isGone: boolean }) {
  const others = beside.filter(({ isSelf }) => !isSelf).map(({ name }) => name);
  const words = [...others, ...(beside.some(({ isSelf }) => isSelf) ? ['you, in another tab,'] : [])];
  const isOne = words.length === 1 && others.length === 1;
  return (
    <>
      {words.length > 0 && (
        <p role="status" className="flex items-center gap-1.5 text-soft" aria-live="polite">
          <span className="flex -space-x-1" aria-hidden="true">
            {others.map((name) => (
              <span key={name} className="grid h-6 w-6 place-items-center rounded-full border border-edge bg-paper text-[10px] font-bold">
                {initialsOf(name)}
              </span>
            ))}
          </span>
          {listed(words)} {isOne ? 'has' : 'have'} this open too
        </p>
      )}
      {isGone && <p className="text-danger">deleted elsewhere</p>}
      {isNewer && (
        <p role="status" className="flex items-center gap-2 text-moment">
          A newer version was saved elsewhere
          <button className="act-quiet" onClick={() => location.reload()}>
            Load it
          </button>
        </p>
      )}
    </>
  );
}

const initialsOf = (name: string): string =>
  name
    .split(/\s+/)
    .map((part) => [...part][0] ?? '')
    .slice(0, 2)
    .join('')
    .toUpperCase();

const listed = (words: readonly string[]): string =>
  words.length < 2 ? words.join('') : `${words.slice(0, -1).join(', ')} and ${words.at(-1) ?? ''}`;
