import { clockWords } from './layout';

/** The one time scale above a list of ribbons, in minutes and seconds. */
export function RibbonAxis({ scale, width }: { scale: number; width: number }) {
  const stepMs = [15_000, 30_000, 60_000, 120_000, 300_000].find((step) => step / scale >= 90) ?? 600_000;
  const ticks = Array.from({ length: Math.floor((width * scale) / stepMs) + 1 }, (_, index) => index * stepMs);
  return (
    <svg width={width} height="18" aria-hidden="true" className="block overflow-visible text-soft">
      {ticks.map((at) => (
        <text key={at} x={at / scale} y="12" fontSize="11" fill="currentColor" textAnchor={at === 0 ? 'start' : 'middle'}>
          {clockWords(at)}
        </text>
      ))}
    </svg>
  );
}
