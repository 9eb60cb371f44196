import type { Foretold } from './useForetold';

/** "≈ 12–40 showings", or what stands in the way of knowing. */
export function ForetoldWords({ of }: { of: Foretold | undefined }) {
  if (!of) return <span className="text-soft">counting …</span>;
  if ('error' in of) return <span className="text-danger">{of.error}</span>;
  const { sure, possible, isSample } = of;
  const n = (count: number): string => count.toLocaleString('en-GB');
  return (
    <span className={possible === 0 ? 'text-soft' : 'font-semibold'}>
      {isSample && '≈ '}
      {possible > sure ? `${n(sure)}–${n(possible)}` : n(sure)} {possible === 1 ? 'showing' : 'showings'}
    </span>
  );
}
