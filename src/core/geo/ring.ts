import type { Position } from './place';

interface Edge {
  readonly index: number;
  readonly from: number;
  readonly to: number;
  readonly low: number;
  readonly high: number;
}

/** Do two edges of a closed ring that are not neighbours meet? Only those are compared that lie above each other and beside each other. */
export function crossesItself(points: readonly Position[]): boolean {
  const count = points.length - 1;
  const edges = Array.from({ length: count }, (_, index): Edge => {
    const [[x1, y1], [x2, y2]] = [at(points, index), at(points, index + 1)];
    return { index, from: Math.min(x1, x2), to: Math.max(x1, x2), low: Math.min(y1, y2), high: Math.max(y1, y2) };
  }).sort((a, b) => a.from - b.from);
  return edges.some((edge, nth) => {
    for (let other = nth + 1; other < count; other++) {
      const one = edges[other] as Edge;
      if (one.from > edge.to) return false;
      if (one.low > edge.high || one.high < edge.low) continue;
      const [a, b] = edge.index < one.index ? [edge.index, one.index] : [one.index, edge.index];
      const areNeighbours = b === a + 1 || (a === 0 && b === count - 1);
      if (areNeighbours ? overlaps(points, a, b, count) : meet(points, a, b)) return true;
    }
    return false;
  });
}

const at = (points: readonly Position[], index: number): Position => points[index] as Position;

function meet(points: readonly Position[], a: number, b: number): boolean {
  const [p, q, r, s] = [at(points, a), at(points, a + 1), at(points, b), at(points, b + 1)];
  const [d1, d2, d3, d4] = [turn(r, s, p), turn(r, s, q), turn(p, q, r), turn(p, q, s)];
  if (d1 * d2 < 0 && d3 * d4 < 0) return true;
  return (d1 === 0 && isOn(r, s, p)) || (d2 === 0 && isOn(r, s, q)) || (d3 === 0 && isOn(p, q, r)) || (d4 === 0 && isOn(p, q, s));
}

/** Neighbours share a point; they may not run back over each other. */
function overlaps(points: readonly Position[], a: number, b: number, count: number): boolean {
  const [from, shared, to] = b === a + 1 ? [a, a + 1, b + 1] : [b, 0, a + 1];
  const [p, q, r] = [at(points, from), at(points, shared % count), at(points, to)];
  return turn(p, q, r) === 0 && (p[0] - q[0]) * (r[0] - q[0]) + (p[1] - q[1]) * (r[1] - q[1]) > 0;
}

const turn = (a: Position, b: Position, c: Position): number => (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);

const isOn = (a: Position, b: Position, c: Position): boolean =>
  Math.min(a[0], b[0]) <= c[0] && c[0] <= Math.max(a[0], b[0]) && Math.min(a[1], b[1]) <= c[1] && c[1] <= Math.max(a[1], b[1]);
