import { chance, assign } from './assign';

const browsers = Array.from({ length: 20_000 }, (_, index) => `0195d3a0-0000-7000-8000-${String(index).padStart(12, '0')}`);
const variants = [
  { name: 'a', weight: 3, start: 'x' },
  { name: 'b', weight: 1, start: 'y' },
];

test('shares come out as asked, the same for the same browser every time', () => {
  const dealt = browsers.map((browser) => assign({ holdout: 0.2, variants }, browser, 'camp'));
  expect(dealt).toEqual(browsers.map((browser) => assign({ holdout: 0.2, variants }, browser, 'camp')));
  const share = (test: (one: (typeof dealt)[0]) => boolean): number => dealt.filter(test).length / dealt.length;
  // Four standard errors at 20,000.
  expect(Math.abs(share(({ kind }) => kind === 'holdout') - 0.2)).toBeLessThan(0.012);
  expect(Math.abs(share((one) => one.kind === 'shown' && one.variant === 'a') - 0.6)).toBeLessThan(0.014);
});

test('the holdout of one campaign is not the holdout of another', () => {
  const held = (campaign: string) => new Set(browsers.filter((browser) => assign({ holdout: 0.5 }, browser, campaign).kind === 'holdout'));
  const [one, other] = [held('a'), held('b')];
  const both = [...one].filter((browser) => other.has(browser)).length / browsers.length;
  expect(Math.abs(both - 0.25)).toBeLessThan(0.016);
});

test('without holdout and variants everyone gets the flow’s own start', () => {
  expect(assign({}, 'b', 'c')).toEqual({ kind: 'shown' });
});

test('chance lies from 0 up to 1 and is spread evenly', () => {
  const tenths = new Array<number>(10).fill(0);
  for (const browser of browsers) {
    const tenth = Math.floor(chance(browser) * 10);
    tenths[tenth] = (tenths[tenth] ?? 0) + 1;
  }
  expect(tenths.every((count) => Math.abs(count - 2000) < 170)).toBe(true);
});
