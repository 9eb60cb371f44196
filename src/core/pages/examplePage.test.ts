import { examplePage } from './examplePage';

const like = (value: string) => ({ op: 'like' as const, value });
const recorded = ['/', '/huts', '/huts/upper-moss', '/courses/snow'];

test.each([
  ['the first that was visited', { on: [like('/huts/*')] }, '/huts/upper-moss'],
  ['not one that is left out', { on: [like('/huts/**')], except: [{ op: 'is' as const, value: '/huts/upper-moss' }] }, '/huts'],
  ['any page', undefined, '/'],
  ['one that nobody has visited: as it is named', { on: [{ op: 'is' as const, value: '/new/page' }] }, '/new/page'],
  ['a star that nobody has visited', { on: [like('/new/*/prices')] }, '/new/page/prices'],
  ['a page set', { on: [{ set: 'courses' }] }, '/courses/snow'],
  ['a page set that nobody has visited', { on: [{ set: 'new' }] }, '/fresh'],
  ['a set that is gone', { on: [{ set: 'gone' }] }, undefined],
  ['what says nothing of a path', { on: [{ part: 'title' as const, op: 'contains' as const, value: 'snow' }] }, undefined],
])('%s', (_, pages, path) => {
  expect(examplePage(pages, recorded, { courses: [like('/courses/*')], new: [{ op: 'starts', value: '/fresh' }] })).toBe(path);
});
