import { anchorsOf } from './useDrawn';

const text = (path: (string | number)[], top: number) => ({
  path,
  label: '',
  most: 1,
  hasLines: false,
  rect: { left: 0, top, width: 1, height: 10 },
  style: {},
});
const places = {
  height: 200,
  blocks: [],
  texts: [
    text(['blocks', 0, 'buttons', 0, 'label'], 100),
    text(['blocks', 0, 'buttons', 1, 'label'], 100),
    text(['blocks', 1, 'submit'], 20),
  ],
};

test('lines of buttons that stand side by side begin apart, beside their buttons', () => {
  const link = (...path: (string | number)[]) => ({ path: [...path, 'does'] });
  expect([
    ...anchorsOf(places, [link('blocks', 0, 'buttons', 0), link('blocks', 0, 'buttons', 1), link('blocks', 1), link('gone')]),
  ]).toEqual([
    ['blocks.1.does', 25],
    ['gone.does', 100],
    ['blocks.0.buttons.0.does', 120],
    ['blocks.0.buttons.1.does', 140],
  ]);
});
