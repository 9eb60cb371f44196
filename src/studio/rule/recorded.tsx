'use client';

import type { ReactNode } from 'react';
import { createContext, useContext, useMemo } from 'react';
import type { PlainPattern } from '@/core/pages/pattern';
import { sectionsOf } from '../ribbon/layout';
import { patternHolds } from '@/core/pages/pattern';

interface Named {
  readonly id: string;
  readonly name: string;
}
interface Counted {
  readonly value: string;
  readonly times: number;
}

/** What the site has recorded in thirty days, most frequent first, and what it has names for. */
export interface Recorded {
  readonly pages: readonly { readonly path: string; readonly views: number }[];
  readonly segments: readonly Named[];
  readonly sets: readonly Named[];
  readonly places: readonly Named[];
  readonly campaigns: readonly Named[];
  readonly events: readonly Counted[];
  readonly traits: readonly Counted[];
  readonly tags: readonly Counted[];
  readonly countries: readonly Counted[];
  readonly cities: readonly Counted[];
  readonly sources: readonly Counted[];
  readonly utmCampaigns: readonly Counted[];
  readonly languages: readonly Counted[];
}

const LISTS = ['events', 'traits', 'tags', 'countries', 'cities', 'sources', 'utmCampaigns', 'languages'] as const;
export type RecordedList = (typeof LISTS)[number];
export const listId = (list: RecordedList | 'pages'): string => `recorded-${list}`;

const NOTHING: Recorded = {
  pages: [],
  segments: [],
  sets: [],
  places: [],
  campaigns: [],
  events: [],
  traits: [],
  tags: [],
  countries: [],
  cities: [],
  sources: [],
  utmCampaigns: [],
  languages: [],
};
const Context = createContext<Recorded>(NOTHING);

/** What the site has recorded, for everything below to pick from. */
export function RecordedProvider({ value, children }: { value: Recorded; children: ReactNode }) {
  return (
    <Context.Provider value={value}>
      <datalist id={listId('pages')}>
        {value.pages.map(({ path, views }) => (
          <option key={path} value={path}>
            {`${views} views`}
          </option>
        ))}
      </datalist>
      {LISTS.map((list) => (
        <datalist key={list} id={listId(list)}>
          {value[list].map(({ value: one, times }) => (
            <option key={one} value={one}>{`${times.toLocaleString('en-GB')} times`}</option>
          ))}
        </datalist>
      ))}
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
