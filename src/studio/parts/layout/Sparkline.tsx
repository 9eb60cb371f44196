import { scaleLinear } from 'd3-scale';
import { area, curveMonotoneX, line } from 'd3-shape';

/** A small line over time that begins at zero; says its course in words to who cannot see it. */
export function Sparkline({
  points,
  width = 120,
  height = 28,
  label,
  colour = 'var(--people)',
}: {
  points: readonly { readonly at: number; readonly people: number }[];
  width?: number;
  height?: number;
  label: string;
  colour?: string;
}) {
  const [first, last] = [points[0], points.at(-1)];
  if (!first || !last) return null;
  const most = Math.max(1, ...points.map(({ people }) => people));
  const x = scaleLinear([first.at, Math.max(last.at, first.at + 1)], [1, width - 3]);
  const y = scaleLinear([0, most], [height - 1, 3]);
  const of = (point: { at: number; people: number }): [number, number] => [x(point.at), y(point.people)];
  const course = line<{ at: number; people: number }>(
    (point) => of(point)[0],
    (point) => of(point)[1],
  ).curve(curveMonotoneX);
  const under = area<{ at: number; people: number }>(
    (point) => of(point)[0],
    y(0),
    (point) => of(point)[1],
  ).curve(curveMonotoneX);
  const words = `${label}: from ${first.people.toLocaleString('en-GB')} to ${last.people.toLocaleString('en-GB')}, at most ${most.toLocaleString('en-GB')}`;
  return (
    <svg width={width} height={height} role="img" aria-label={words}>
      <title>{words}</title>
      <path d={under([...points]) ?? ''} fill={colour} opacity="0.14" />
      <path d={course([...points]) ?? ''} fill="none" stroke={colour} strokeWidth="1.5" />
      <circle cx={x(last.at)} cy={y(last.people)} r="2" fill={colour} />
    </svg>
  );
}
