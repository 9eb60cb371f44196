import type { Flow } from '@/core/flows/flow';
import { linksOf } from '@/core/flows/links';
import { CAMPAIGNS } from '@/demo/world/campaigns';
import { endKey, placeAll, shifted } from './board';

const flow = CAMPAIGNS.find(({ id }) => id === 'camp_member_question')?.document.flow as Flow;
const sizes = new Map(flow.messages.map(({ id }) => [id, { width: 400, height: 300 }]));

test('nothing lies on anything else, what is opened stands to the right, and loops are let be', () => {
  const links = linksOf(flow);
  const { spots, width, height } = placeAll(flow.start, sizes, links);
  const all = [...spots.values()];
  for (const a of all)
    for (const b of all)
      if (a !== b) expect(a.x + a.width <= b.x || b.x + b.width <= a.x || a.y + a.height <= b.y || b.y + b.height <= a.y).toBe(true);
  const left = (id: string): number => spots.get(id)?.x ?? NaN;
  expect(Math.min(...all.map(({ x }) => x))).toBe(left('ask'));
  expect(left('second-thought')).toBeGreaterThan(left('ask') + 400);
  for (const link of links) if (link.to === undefined && link.words.length) expect(spots.has(endKey(link))).toBe(true);
  for (const { x, y, ...size } of all)
    expect([x + size.width <= width, y + size.height <= height, x >= 0, y >= 0]).toEqual([true, true, true, true]);
});

test('forty messages that lead to each other all round are placed', () => {
  const many: Flow = {
    start: 'm0',
    messages: Array.from({ length: 40 }, (_, nth) => ({
      id: `m${nth}`,
      format: 'quiet' as const,
      does: [{ kind: 'message' as const, id: `m${(nth + 1) % 40}` }],
    })),
  };
  const { spots } = placeAll('m0', new Map(many.messages.map(({ id }) => [id, { width: 100, height: 50 }])), linksOf(many));
  expect(spots.size).toBe(40);
});

test('a frame that was moved by hand stands there, never outside, and the board grows with it', () => {
  const board = placeAll(
    'a',
    new Map([
      ['a', { width: 100, height: 50 }],
      ['b', { width: 100, height: 50 }],
    ]),
    [],
  );
  const [a, b] = [board.spots.get('a'), board.spots.get('b')];
  const moved = shifted(board, { b: { x: 700, y: 300 }, a: { x: -5000, y: -5000 }, gone: { x: 1, y: 1 } });
  expect(moved.spots.get('b')).toEqual({ ...b, x: (b?.x ?? 0) + 700, y: (b?.y ?? 0) + 300 });
  expect(moved.spots.get('a')).toMatchObject({ y: 0, width: a?.width });
  expect(moved.spots.get('a')?.x).toBeGreaterThan(0);
  expect(moved.width).toBeGreaterThan(board.width + 500);
  expect(shifted(board, {})).toBe(board);
});
