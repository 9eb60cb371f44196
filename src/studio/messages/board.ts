import { Graph, layout } from '@dagrejs/dagre';
import type { Path } from '@/core/flows/edit';
import type { Link } from '@/core/flows/links';

export interface Size {
  readonly width: number;
  readonly height: number;
}
export interface Spot extends Size {
  readonly x: number;
  readonly y: number;
}
export interface Point {
  readonly x: number;
  readonly y: number;
}
export interface Board {
  /** By message id; and by `endKey` for what ends in words. */
  readonly spots: ReadonlyMap<string, Spot>;
  /** By `endKey` of a link, the points in between by which its line goes round what stands in its way. */
  readonly ways: ReadonlyMap<string, readonly Point[]>;
  readonly width: number;
  readonly height: number;
}

/** Of what a line ends in. */
export const END: Size = { width: 200, height: 64 };
/** With room for the tools of a message that stands on top. */
const MARGIN = 52;
/** Room for where it begins. */
const LEFT = 90;

/** What is asked of a link. */
export type Line = Pick<Link, 'from' | 'path' | 'to' | 'words'>;

export const pathKey = (path: readonly (string | number)[]): string => path.join('.');
export const endKey = ({ from, path }: Pick<Link, 'from' | 'path'>): string => `${from} ${pathKey(path)}`;

/** Ways to set what stands in a column against the next one; which of them is the flattest depends on the flow. */
const ALIGNED = [undefined, 'UL', 'UR', 'DL', 'DR'] as const;

/** Where each message stands, and each end of a line in words: from the first one on towards the right, as flat as it goes. */
export function placeAll(start: string, sizes: ReadonlyMap<string, Size>, links: readonly Line[]): Board {
  const cost = ({ height, spots }: Board): number => height + (spots.get(start)?.y ?? 0);
  return ALIGNED.map((align) => place(start, { sizes, links, align })).reduce((best, board) => (cost(board) < cost(best) ? board : best));
}

function place(
  start: string,
  { sizes, links, align }: { sizes: ReadonlyMap<string, Size>; links: readonly Line[]; align: (typeof ALIGNED)[number] },
): Board {
  const graph = new Graph({ multigraph: true });
  graph.setGraph({
    rankdir: 'LR',
    ...(align ? { align } : {}),
    nodesep: 28,
    ranksep: 110,
    marginx: LEFT,
    marginy: MARGIN,
    acyclicer: 'greedy',
  });
  graph.setDefaultEdgeLabel(() => ({}));
  // What begins is laid out first, so that it stands at the left and on top.
  const ids = [...sizes.keys()].sort((a, b) => Number(b === start) - Number(a === start));
  for (const id of ids) graph.setNode(id, { ...(sizes.get(id) as Size) });
  for (const link of links) {
    const to = link.to ?? endKey(link);
    if (link.to === undefined && link.words.length > 0) graph.setNode(to, { ...END });
    // One that leads to itself is drawn, and moves nothing.
    if (sizes.has(link.from) && graph.hasNode(to) && to !== link.from) graph.setEdge(link.from, to, {}, pathKey(link.path));
  }
  layout(graph);
  const spots = new Map<string, Spot>();
  for (const id of graph.nodes()) {
    const { x, y, width, height } = graph.node(id) as Spot;
    spots.set(id, { x: Math.round(x - width / 2), y: Math.round(y - height / 2), width, height });
  }
  const past = Math.max(0, ...[...sizes.values()].map(({ width }) => width)) / 2 + 12;
  const ways = new Map<string, readonly Point[]>();
  for (const { v, w, name } of graph.edges()) {
    const { points = [] } = graph.edge(v, w, name) as { points?: Point[] };
    // The first and the last are where it leaves and arrives, which is known better; of the rest every other stands in a column that it passes.
    ways.set(
      `${v} ${name ?? ''}`,
      // Straight past it, from one side to the other.
      points.slice(1, -1).flatMap(({ x, y }, nth) => (nth % 2 === 1 ? [x - past, x + past].map((at) => ({ x: at, y })) : [])),
    );
  }
  return {
    spots,
    ways,
    ...extentOf(spots),
  };
}

/** The board with frames moved by hand; lines to and from them go straight, and nothing stands outside at the left or above. */
export function shifted(board: Board, shifts: Readonly<Record<string, Point>>): Board {
  const moved = new Set([...board.spots.keys()].filter((id) => shifts[id]));
  if (moved.size === 0) return board;
  const spots = new Map(
    [...board.spots].map(([id, spot]): [string, Spot] => {
      const by = shifts[id] ?? { x: 0, y: 0 };
      return [id, { ...spot, x: Math.max(LEFT / 2, Math.round(spot.x + by.x)), y: Math.max(0, Math.round(spot.y + by.y)) }];
    }),
  );
  return {
    spots,
    ways: new Map([...board.ways].map(([key, points]) => [key, moved.has(key.split(' ')[0] ?? '') ? [] : points])),
    ...extentOf(spots),
  };
}

const extentOf = (spots: ReadonlyMap<string, Spot>): Size => ({
  width: Math.max(0, ...[...spots.values()].map(({ x, width }) => x + width)) + MARGIN,
  height: Math.max(0, ...[...spots.values()].map(({ y, height }) => y + height)) + MARGIN,
});

/** A line from a point at the right of one frame, by points in between, to the left of another, or round below to one that stands before it. */
export function lineBetween(from: Point, { to, by, below }: { to: Spot; by: readonly Point[]; below: number }): string {
  const end = { x: to.x - 6, y: to.y + Math.min(40, to.height / 2) };
  if (end.x >= from.x) {
    const stops = [from, ...by.filter(({ x }) => x > from.x + 20 && x < end.x - 20), end];
    return stops.slice(1).reduce((line, stop, nth) => {
      const before = stops[nth] as Point;
      const bend = Math.max(24, (stop.x - before.x) / 2);
      return `${line} C${before.x + bend},${before.y} ${stop.x - bend},${stop.y} ${stop.x},${stop.y}`;
    }, `M${from.x},${from.y}`);
  }
  // Back: out at the right, along below both, and in from the left.
  return `M${from.x},${from.y} C${from.x + 56},${from.y} ${from.x + 56},${below} ${from.x},${below} L${end.x - 30},${below} C${end.x - 76},${below} ${end.x - 60},${end.y} ${end.x},${end.y}`;
}

/** Of the list that a block stands in. */
export const listOf = (path: Path): Path => path.slice(0, -1);
