'use client';

import type { Link } from '@/core/flows/links';
import type { Ways } from '@/core/results/ways';
import type { Board } from './board';
import { endKey, lineBetween, pathKey } from './board';
import type { Measured } from './MessageFrame';

/** Every line of the board, behind its frames; `below`: how far down those go that lead back. */
export function Lines({
  links,
  board,
  measured,
  start,
  below,
  taken,
}: {
  links: readonly Link[];
  board: Board;
  measured: ReadonlyMap<string, Measured>;
  start: string;
  below: number;
  /** How many showings went which way, where somebody wants to see it. */
  taken: Ways | undefined;
}) {
  const first = board.spots.get(start);
  return (
    <svg aria-hidden="true" className="pointer-events-none absolute inset-0 h-full w-full overflow-visible text-ink">
      <defs>
        <marker id="line-end" viewBox="0 0 8 8" refX="7" refY="4" markerWidth="8" markerHeight="8" orient="auto">
          <path d="M0,0 L8,4 L0,8 Z" fill="currentColor" />
        </marker>
      </defs>
      {first && (
        <>
          <circle cx={first.x - 22} cy={first.y + 60} r="5" fill="currentColor" />
          <path
            d={`M${first.x - 22},${first.y + 60} L${first.x - 4},${first.y + 60}`}
            stroke="currentColor"
            strokeWidth="1.5"
            markerEnd="url(#line-end)"
          />
        </>
      )}
      {links.map((link, nth) => {
        const [from, to] = [board.spots.get(link.from), board.spots.get(link.to ?? endKey(link))];
        if (!from || !to) return null;
        const y = from.y + (measured.get(link.from)?.anchors[pathKey(link.path)] ?? from.height / 2);
        const isBack = to.x <= from.x;
        const share = taken && link.to !== undefined ? shareOf(taken, link.from, link.to) : undefined;
        return (
          <path
            key={endKey(link)}
            d={lineBetween(
              { x: from.x + from.width + 8, y },
              { to: link.to === undefined ? { ...to, y: to.y - 18 } : to, by: board.ways.get(endKey(link)) ?? [], below: below + nth * 3 },
            )}
            fill="none"
            stroke="currentColor"
            strokeWidth={share === undefined ? 1.5 : 1 + share * WIDEST}
            strokeDasharray={isBack ? '5 5' : undefined}
            strokeLinecap="butt"
            opacity={isBack || share !== undefined ? 0.6 : 1}
            markerEnd={share === undefined || share === 0 ? 'url(#line-end)' : undefined}
          />
        );
      })}
    </svg>
  );
}

/** A line that was taken in every showing, in px. */
const WIDEST = 32;

/** Of all showings those that went on from one message to another: of two lines the one that more took is the wider, wherever they begin. */
export const shareOf = ({ showings, went }: Pick<Ways, 'showings' | 'went'>, from: string, to: string): number =>
  showings === 0 ? 0 : Math.min(1, (went.find((way) => way.from === from && way.to === to)?.showings ?? 0) / showings);
