import { Graph, layout } from '@dagrejs/dagre';
import type { Link } from '@/core/flows/links';

export interface Size {
  readonly width: number;
  readonly height: number;
}
export interface Spot extends Size {
  readonly x: number;
  readonly y: number;
}
export interface Board {
  /** By message id; and by `endKey` for what ends in words. */
  readonly spots: ReadonlyMap<string, Spot>;
  readonly width: number;
  readonly height: number;
}

/** Of what a line ends in. */
export const END: Size = { width: 200, height: 64 };
const MARGIN = 24;

export const pathKey = (path: readonly (string | number)[]): string => path.join('.');
export const endKey = ({ from, path }: Pick<Link, 'from' | 'path'>): string => `${from} ${pathKey(path)}`;

/** Where each message stands, and each end of a line in words: from the first one on towards the right. */
export function placeAll(start: string, sizes: ReadonlyMap<string, Size>, links: readonly Link[]): Board {
  const graph = new Graph({ multigraph: true });
  graph.setGraph({ rankdir: 'LR', align: 'UL', nodesep: 28, ranksep: 110, marginx: MARGIN, marginy: MARGIN, acyclicer: 'greedy' });
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
  return {
    spots,
    width: Math.max(0, ...[...spots.values()].map(({ x, width }) => x + width)) + MARGIN,
    height: Math.max(0, ...[...spots.values()].map(({ y, height }) => y + height)) + MARGIN,
  };
}

/** A line from a point at the right of one frame to the left of another, or round below to one that stands before it. */
export function lineBetween(from: { readonly x: number; readonly y: number }, to: Spot, below: number): string {
  const end = { x: to.x - 6, y: to.y + Math.min(40, to.height / 2) };
  if (end.x >= from.x) {
    const bend = Math.max(40, (end.x - from.x) / 2);
    return `M${from.x},${from.y} C${from.x + bend},${from.y} ${end.x - bend},${end.y} ${end.x},${end.y}`;
  }
  // Back: out at the right, along below both, and in from the left.
  return `M${from.x},${from.y} C${from.x + 56},${from.y} ${from.x + 56},${below} ${from.x},${below} L${end.x - 30},${below} C${end.x - 76},${below} ${end.x - 60},${end.y} ${end.x},${end.y}`;
}
