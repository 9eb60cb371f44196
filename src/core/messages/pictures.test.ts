import type { Flow } from '../flows/flow';
import { hashIn, picturesIn, withFittingPictures, withPicture } from './pictures';

const OLD = 'AAAAAAAAAAAAAAAAAAAAAA';
const NEW = 'BBBBBBBBBBBBBBBBBBBBBB';
const url = (hash: string) => `https://in.example/i/sitekey123/${hash}.webp`;
const picture = (width: number, src = url(OLD)) => ({ kind: 'picture' as const, src, alt: '', width, height: width / 2 });
const flow = (width: number | undefined, ...blocks: object[]): Flow =>
  ({
    start: 'a',
    messages: [{ id: 'a', format: 'popup', ...(width ? { width } : {}), closes: { button: true, dim: true, escape: true }, blocks }],
  }) as Flow;

test('only an address of the library is a picture of it', () => {
  expect(hashIn(url(OLD))).toBe(OLD);
  expect(hashIn('https://elsewhere.example/i/logo.webp')).toBeUndefined();
  expect(picturesIn(flow(undefined, picture(100), picture(50), picture(9, '/x.webp')))).toEqual([OLD]);
});

test('a picture is replaced wherever it stands, keeps its width and takes the new proportions', () => {
  const document = { flow: flow(undefined, picture(300), picture(80, '/other.webp')), sender: { name: 'Runa', picture: url(OLD) } };
  const next = withPicture(document, OLD, { url: url(NEW), width: 1000, height: 250 });
  expect(next.sender.picture).toBe(url(NEW));
  expect(next.flow.messages[0]).toMatchObject({
    blocks: [
      { src: url(NEW), width: 300, height: 75 },
      { src: '/other.webp', height: 40 },
    ],
  });
  expect(withPicture(document, NEW, { url: url(OLD), width: 1, height: 1 })).toBe(document);
});

const sizes = [
  { hash: 'S'.repeat(22), width: 480 },
  { hash: 'M'.repeat(22), width: 960 },
];
test.each([
  ['small in a pop-up', undefined, picture(200), 'S'],
  ['as wide as the pop-up', undefined, picture(800), 'M'],
  ['wider than any size', 900, picture(900), 'A'],
  ['in a column of a wide one', 900, { kind: 'columns', start: [picture(800)], end: [] }, 'M'],
])('a picture that is %s is served no larger than it is seen', (_what, width, block, first) => {
  const text = JSON.stringify(withFittingPictures(flow(width, block), (hash) => (hash === OLD ? sizes : undefined)));
  expect(text).toContain(url(first.repeat(22)));
});
