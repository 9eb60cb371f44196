import { area, curveMonotoneX } from 'd3-shape';
import { memo } from 'react';
import type { Ribbon, RibbonMark, RibbonView } from './layout';
import { clockWords } from './layout';

const HEIGHT = 34;
const TOP = 13;
const BAND = 20;

/** Colours of page sections, told apart by lightness as well as hue; the name is in the read-out. */
const SECTION_COLOURS = ['#5b87a6', '#7f9a54', '#a5784b', '#8d72a3', '#4f8f86', '#a0696b', '#77806f'] as const;

export type ColourOf = (section: string) => string;

/** The site's most seen sections get a colour each; the rest share the last one. */
export function colourBySection(sections: readonly string[]): ColourOf {
  // By name: two lists that counted at different instants agree on the colours.
  const own = sections.slice(0, SECTION_COLOURS.length - 1).sort();
  return (section) => SECTION_COLOURS[own.includes(section) ? own.indexOf(section) : SECTION_COLOURS.length - 1] as string;
}

/**
 * One visit as a band: page views as lengths, scroll as a fill that rises, pauses as a thin line, clicks as dots, an
 * exit as a notch, an event as a tick, a showing as a flag. `scale` is ms per pixel, shared by a whole list.
 */
export function RibbonBand({
  ribbon,
  scale,
  width,
  title,
  colourOf,
}: {
  ribbon: Ribbon;
  scale: number;
  width: number;
  title: string;
  colourOf: ColourOf;
}) {
  const x = (at: number): number => at / scale;
  const isCut = x(ribbon.length) > width;
  return (
    <svg
      width={width}
      height={HEIGHT}
      viewBox={`0 0 ${width} ${HEIGHT}`}
      role="img"
      aria-label={`${title}: ${wordsOf(ribbon)}`}
      className="block overflow-hidden"
    >
      <Ground views={ribbon.views} quiet={ribbon.quiet} scale={scale} colourOf={colourOf} />
      {ribbon.marks.map((mark, index) => (
        <Mark
          key={index}
          mark={mark}
          x={x(mark.at)}
          width={width}
          isLeft={isCovered(mark, ribbon.marks, scale)}
          hasRoom={hasRoom(mark, ribbon.marks, scale)}
        />
      ))}
      {isCut && <path d={`M${width - 8} ${TOP}v${BAND}l8 ${-BAND / 2}z`} fill="var(--paper)" stroke="var(--soft)" />}
    </svg>
  );
}

/** What stands still while flags move. */
const Ground = memo(function Ground({
  views,
  quiet,
  scale,
  colourOf,
}: Pick<Ribbon, 'views' | 'quiet'> & { scale: number; colourOf: ColourOf }) {
  const x = (at: number): number => at / scale;
  return (
    <>
      {views.map((view, index) => (
        <ViewBand key={index} view={view} x={x} colour={colourOf(view.section)} />
      ))}
      {quiet.map(({ from, to }) => (
        <g key={from}>
          <rect x={x(from) + 1} y={TOP} width={Math.max(0, x(to) - x(from) - 2)} height={BAND} fill="var(--paper)" opacity="0.72" />
          <line x1={x(from) + 1} x2={x(to) - 1} y1={TOP + BAND / 2} y2={TOP + BAND / 2} stroke="var(--soft)" strokeWidth="1" />
        </g>
      ))}
    </>
  );
});

function ViewBand({ view, x, colour }: { view: RibbonView; x: (at: number) => number; colour: string }) {
  const left = x(view.from);
  const wide = Math.max(2, x(view.to) - left - 2);
  const fill = area<{ at: number; percent: number }>()
    .x(({ at }) => Math.min(x(at), left + wide))
    .y0(TOP + BAND)
    .y1(({ percent }) => TOP + BAND - (percent / 100) * BAND)
    .curve(curveMonotoneX);
  return (
    <g>
      <title>{`${view.path}, ${clockWords(view.to - view.from)}, scrolled ${view.depth.at(-1)?.percent ?? 0} %`}</title>
      <rect x={left} y={TOP} width={wide} height={BAND} fill={colour} opacity="0.24" />
      <path d={fill([...view.depth]) ?? ''} fill={colour} opacity="0.78" />
    </g>
  );
}

const FLAG = 13;

/** A flag whose neighbour to the right would cover it flies to the left of its pole. */
function isCovered(mark: RibbonMark, marks: readonly RibbonMark[], scale: number): boolean {
  const isFlag = ({ kind }: RibbonMark): boolean => kind === 'showing' || kind === 'would';
  if (!isFlag(mark) || mark.at / scale < FLAG) return false;
  const nth = marks.indexOf(mark);
  return marks.some((other, index) => {
    const distance = (other.at - mark.at) / scale;
    return isFlag(other) && distance <= FLAG && (distance > 0 || (distance === 0 && index > nth));
  });
}

/** Of a letter, on average. */
const LETTER = 5.5;

/** Whether the words beside a near miss end before the next mark of its line; where they do not, they are read by hovering alone. */
function hasRoom(mark: RibbonMark, marks: readonly RibbonMark[], scale: number): boolean {
  const end = mark.at + (FLAG + 12 + mark.words.length * LETTER) * scale;
  return !marks.some((other) => other.at > mark.at && other.at < end && ['missed', 'would', 'showing'].includes(other.kind));
}

function Mark({
  mark,
  x,
  width,
  isLeft,
  hasRoom: isTold,
}: {
  mark: RibbonMark;
  x: number;
  width: number;
  isLeft: boolean;
  hasRoom: boolean;
}) {
  if (x > width) return null;
  const [flag, middle] = isLeft ? [-FLAG, -FLAG / 2] : [FLAG, FLAG / 2];
  const label = <title>{mark.words}</title>;
  switch (mark.kind) {
    case 'click':
      return (
        <circle cx={x} cy={TOP + BAND / 2} r="2.2" fill="var(--ink)">
          {label}
        </circle>
      );
    case 'exit':
      return (
        <path d={`M${x - 4} ${TOP - 1}h8l-4 7z`} fill="var(--moment)">
          {label}
        </path>
      );
    case 'event':
      return (
        <path d={`M${x} ${TOP + BAND}v-7`} stroke="var(--ink)" strokeWidth="2">
          {label}
        </path>
      );
    case 'missed':
      return (
        <g>
          {label}
          <rect x={x + 0.5} y="1" width="13" height="11" fill="none" stroke="var(--soft)" strokeDasharray="2 2" />
          {isTold && (
            <text x={x + 19} y="10" fontSize="11" fontStyle="italic" fill="var(--soft)">
              {mark.words}
            </text>
          )}
        </g>
      );
    case 'would':
      return (
        <g className="sliding" style={{ transform: `translateX(${x}px)` }}>
          {label}
          <path d={`M0 ${TOP + BAND}V1h${flag}v11H0`} fill="var(--pine)" stroke="var(--pine)" strokeWidth="1.5" />
          <text x={middle} y="10" textAnchor="middle" fontSize="9" fontWeight="700" fill="var(--on-pine)">
            {mark.letter}
          </text>
        </g>
      );
    case 'showing':
      return (
        <g>
          {label}
          <path d={`M${x} ${TOP + BAND}V1h${flag}v11H${x}`} fill="var(--pine)" stroke="var(--pine)" strokeWidth="1.5" />
          <text x={x + middle} y="10" textAnchor="middle" fontSize="9" fontWeight="700" fill="var(--on-pine)">
            {mark.letter}
          </text>
        </g>
      );
  }
}

function wordsOf({ views, marks, length }: Ribbon): string {
  const pages = views.map(({ path }) => path).join(', ');
  const shown = marks.filter(({ kind }) => kind === 'showing' || kind === 'would' || kind === 'missed').map(({ words }) => words);
  return [`${clockWords(length)} over ${pages}`, ...shown].join('; ');
}
