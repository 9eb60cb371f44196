/** @jsxImportSource preact */
import type { Signal } from '@/core/moments/signal';
import type { TriedView } from '../session';

const WIDTH = 480;
const TOP = 12;
const BAND = 20;
const SCALE = [60_000, 120_000, 300_000, 600_000, 1_800_000, 7_200_000];
/** A view that was left long ago is drawn no longer than this: what is under way is what is looked at. */
const LONGEST_MS = 90_000;

const minutes = (ms: number): string => {
  const seconds = Math.max(0, Math.round(ms / 1000));
  return `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, '0')}`;
};

const deepest = (signals: readonly Signal[]): number =>
  Math.max(0, ...signals.map((signal) => (signal.s === 'scroll' ? signal.depth : signal.s === 'whole' ? 100 : 0)));

/** One's own visit as it grows: pages as lengths, how far they were read as a fill, clicks, exits, events and what was shown on it. */
export function VisitRibbon({
  views,
  now,
  initialOf,
}: {
  views: readonly TriedView[];
  now: number;
  initialOf: (campaign: string) => string;
}) {
  const recent = views.slice(-6);
  const lengths = recent.map(({ at, to }, index) =>
    index === recent.length - 1 ? Math.max(0, now - at) : Math.min(LONGEST_MS, Math.max(1000, to - at)),
  );
  const total = lengths.reduce((sum, one) => sum + one, 0);
  const scale = (SCALE.find((one) => one >= total) ?? total) / WIDTH;
  const starts = lengths.map((_, index) => lengths.slice(0, index).reduce((sum, one) => sum + one, 0) / scale);
  const last = recent.at(-1);
  if (!last) return null;
  const words = `${last.path} · here for ${minutes(now - last.at)}, scrolled ${Math.round(deepest(last.signals))} %`;
  return (
    <svg
      width="100%"
      height="48"
      viewBox={`0 0 ${WIDTH + 20} 48`}
      preserveAspectRatio="xMinYMid meet"
      role="img"
      aria-label={`Your visit: ${words}`}
    >
      {recent.map((view, index) => (
        <View
          key={view.at}
          view={view}
          left={starts[index] ?? 0}
          width={Math.max(3, (lengths[index] ?? 0) / scale - 2)}
          scale={scale}
          initialOf={initialOf}
        />
      ))}
      <text x="0" y="46" font-size="11" fill="#55605c">
        {words}
      </text>
    </svg>
  );
}

function View({
  view,
  left,
  width,
  scale,
  initialOf,
}: {
  view: TriedView;
  left: number;
  width: number;
  scale: number;
  initialOf: (campaign: string) => string;
}) {
  const x = (t: number): number => left + Math.min(width, t / scale);
  const depths = view.signals.flatMap((signal, index) =>
    signal.s === 'scroll' || signal.s === 'whole' ? [{ t: signal.t, depth: deepest(view.signals.slice(0, index + 1)) }] : [],
  );
  const points = depths.map(({ t, depth }) => `${x(t)},${TOP + BAND * (1 - depth / 100)}`);
  const depth = deepest(view.signals);
  const bottom = TOP + BAND;
  return (
    <g>
      <title>{view.path}</title>
      <rect x={left} y={TOP} width={width} height={BAND} fill="#d5e0ea" />
      <polygon
        points={`${left},${bottom} ${points.join(' ')} ${left + width},${bottom - (BAND * depth) / 100} ${left + width},${bottom}`}
        fill="#7b9cbb"
      />
      {view.signals.map((signal, index) => {
        if (signal.s === 'click') return <circle key={index} cx={x(signal.t)} cy={TOP + BAND / 2} r="2.2" fill="#17211e" />;
        if (signal.s === 'exit') return <path key={index} d={`M${x(signal.t) - 4} ${TOP - 1}h8l-4 7z`} fill="#b25a06" />;
        if (signal.s === 'event') return <path key={index} d={`M${x(signal.t)} ${bottom}v-7`} stroke="#17211e" stroke-width="2" />;
        return null;
      })}
      {view.shown.map(({ campaign, at }) => (
        <g key={`${campaign} ${at}`}>
          <path d={`M${x(at - view.at)} ${bottom}V1h13v11h-13`} fill="#0b5d4e" stroke="#0b5d4e" stroke-width="1.5" />
          <text x={x(at - view.at) + 6.5} y="10" text-anchor="middle" font-size="9" font-weight="700" fill="#fff">
            {initialOf(campaign)}
          </text>
        </g>
      ))}
    </g>
  );
}
