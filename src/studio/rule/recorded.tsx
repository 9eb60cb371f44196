'use client';

import type { ReactNode } from 'react';
import { createContext, useContext, useMemo } from 'react';
import type { PlainPattern } from '@/core/pages/pattern';
import { sectionsOf } from '../ribbon/layout';
import { patternHolds } from '@/core/pages/pattern';

export interface Recorded {
  readonly pages: readonly { readonly path: string; readonly views: number }[];
  readonly segments: readonly { readonly id: string; readonly name: string }[];
}

const Context = createContext<Recorded>({ pages: [], segments: [] });

/** What the site has recorded, for everything below to pick from. */
export function RecordedProvider({ value, children }: { value: Recorded; children: ReactNode }) {
  return (
    <Context.Provider value={value}>
      <datalist id="recorded-pages">
        {value.pages.map(({ path, views }) => (
          <option key={path} value={path}>
            {`${views} views`}
          </option>
        ))}
      </datalist>
      {children}
    </Context.Provider>
  );
}

export function useRecorded(): Recorded & {
  sections: string[];
  countMatching: (pattern: PlainPattern) => { pages: number; views: number };
} {
  const recorded = useContext(Context);
  return useMemo(
    () => ({
      ...recorded,
      sections: sectionsOf(recorded.pages),
      countMatching: (pattern) => {
        const matching = recorded.pages.filter(({ path }) => patternHolds(pattern, { url: `https://site.example${path}` }, {}) === true);
        return { pages: matching.length, views: matching.reduce((sum, { views }) => sum + views, 0) };
      },
    }),
    [recorded],
  );
}
