import { z } from 'zod';
import type { Truth } from '../logic/truth';
import { and, not, or } from '../logic/truth';
import type { Page } from './address';
import type { PagePattern, PageSets } from './pattern';
import { patternHolds, patternSchema } from './pattern';

export const pagesSchema = () =>
  z.strictObject({
    on: z.array(patternSchema()).max(200).optional(),
    except: z.array(patternSchema()).max(200).optional(),
  });
export type Pages = z.infer<ReturnType<typeof pagesSchema>>;

/** On at least one of `on` (or `on` is empty), and on none of `except`. */
export function pagesHold(pages: Pages | undefined, page: Page, sets: PageSets): Truth {
  const on = pages?.on ?? [];
  const except = pages?.except ?? [];
  return and([on.length === 0 ? true : anyPatternHolds(on, page, sets), not(anyPatternHolds(except, page, sets))]);
}

export function anyPatternHolds(patterns: readonly PagePattern[], page: Page, sets: PageSets): Truth {
  return or(patterns.map((pattern) => patternHolds(pattern, page, sets)));
}
