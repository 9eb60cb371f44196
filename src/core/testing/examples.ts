// Generators that kinds of conditions make their examples from. fast-check is handed in, so that nothing of it is shipped.
import type * as FastCheck from 'fast-check';
import type { Range } from '../logic/range';
import type { TextTest, ValueTest } from '../logic/valueTest';
import type { PagePattern } from '../pages/pattern';

export type Fc = typeof FastCheck.default;
type Made<T> = FastCheck.Arbitrary<T>;

export const PATHS = ['/', '/huts', '/huts/upper-moss', '/huts/closed', '/book', '/book/done', '/routes/ridge/day-2'];

export const maybe = <T>(fc: Fc, one: Made<T>): Made<T | undefined> => fc.option(one, { nil: undefined });

/** Leaves out what is undefined, as parsed JSON would. */
export function shape<T extends object>(fc: Fc, fields: { [K in keyof T]: Made<T[K]> }): Made<T> {
  return fc.record(fields).map((record) => Object.fromEntries(Object.entries(record).filter(([, value]) => value !== undefined)) as T);
}

export const rangeExample = (fc: Fc, most: number): Made<Range> =>
  fc.oneof(
    fc.integer({ min: 0, max: most }).map((min) => ({ min })),
    fc.integer({ min: 0, max: most }).map((max) => ({ max })),
    fc
      .tuple(fc.integer({ min: 0, max: most }), fc.integer({ min: 0, max: most }))
      .map(([a, b]) => ({ min: Math.min(a, b), max: Math.max(a, b) })),
  );
export const timesExample = (fc: Fc): Made<Range | undefined> => maybe(fc, rangeExample(fc, 4));
export const withinExample = (fc: Fc): Made<number | 'visit' | undefined> =>
  maybe(fc, fc.constantFrom<number | 'visit'>(1, 7, 30, 'visit'));
export const listExample = <T>(fc: Fc, from: readonly T[]): Made<T[]> =>
  fc.uniqueArray(fc.constantFrom(...from), { minLength: 1, maxLength: 2 });

export const patternExample = (fc: Fc): Made<PagePattern> =>
  fc.oneof(
    fc.record({
      op: fc.constantFrom('is' as const, 'like' as const),
      value: fc.constantFrom(...PATHS, '/huts/*', '/huts/**', '/**/day-2'),
    }),
    fc.record({
      op: fc.constantFrom('starts' as const, 'contains' as const, 'ends' as const),
      value: fc.constantFrom('/huts', 'book', 'done'),
    }),
    fc.constantFrom<PagePattern>(
      { part: 'title', op: 'contains', value: 'moss' },
      { part: 'parameter', name: 'ref', op: 'exists' },
      { part: 'label', op: 'is', value: 'winter' },
    ),
  );
export const pagesExample = (fc: Fc): Made<PagePattern[]> => fc.array(patternExample(fc), { minLength: 1, maxLength: 2 });

export const textExample = (fc: Fc): Made<string> => fc.constantFrom('yes', 'no', 'member-plus', '5');
export const textTestExample = (fc: Fc): Made<TextTest> =>
  fc.oneof(
    fc.record({ op: fc.constantFrom('is' as const, 'contains' as const), value: textExample(fc) }),
    fc.constant({ op: 'exists' as const }),
  );
export const valueTestExample = (fc: Fc): Made<ValueTest> =>
  fc.oneof(
    fc.record({ op: fc.constantFrom('is' as const, 'contains' as const, 'starts' as const, 'ends' as const), value: textExample(fc) }),
    fc.record({ op: fc.constant('oneOf' as const), value: listExample(fc, ['yes', '5']) }),
    fc.constant({ op: 'exists' as const }),
    rangeExample(fc, 9).map((bounds) => ({ op: 'range' as const, ...bounds })),
    rangeExample(fc, 60).map((bounds) => ({ op: 'daysAgo' as const, ...bounds })),
  );
export const whereExample = (fc: Fc): Made<{ key: string; test: ValueTest }[] | undefined> =>
  maybe(fc, fc.array(fc.record({ key: fc.constantFrom('value', 'hut'), test: valueTestExample(fc) }), { minLength: 1, maxLength: 1 }));
